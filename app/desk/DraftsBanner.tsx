import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { useEffect, useState, type ReactNode } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import { isUserError } from "~core/model/userError";
import type { CharacterPage } from "~server/services/characterPage";
import { dropDraft, draftOf, type Draft } from "../session/kept/drafts";
import { endDraft } from "../session/kept/useKeepDrafts";
import { draftAddress } from "../session/kept/draftAddress";
import { useDrafts } from "../session/kept/useDrafts";
import { TOOLS } from "../session/kept/keptTools";
import { keepSteps } from "../session/ledgerClient";
import { useSession, useSessionStore } from "../session/session";
import { viewToQuery } from "../session/urlState";
import { ago } from "../ui/ago";
import { putAway } from "../session/slices/tools";

const atPlace = (draft: Draft, station: string, query: URLSearchParams): boolean =>
  draft.place.station === station && Object.entries(draft.place.query).every(([k, v]) => query.get(k) === v);

/** Work that is not in the ledger and not before one's eyes: what it is, and the way back to it. */
export function DraftsBanner({ page }: { page: CharacterPage }): ReactNode {
  const store = useSessionStore();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [query] = useSearchParams();
  const { id } = page.character;
  const drafts = useDrafts(id);
  const [all, setAll] = useState(false);
  const [sure, setSure] = useState<string | null>(null);
  const active = useSession((s) => TOOLS.map((t) => s[t]?.draft ?? "").join(" "));
  const sculpting = useSession((s) => s.sculpt?.draft);
  useParking();
  useTakeUp();
  const station = pathname.split("/").pop() ?? "";
  // what this window works on is before one's eyes, but for a sculpt whose place is elsewhere; rules stand open at
  // their place
  const away = drafts.filter(
    (d) => !active.includes(d.id) && !(d.content.kind === "rules" && atPlace(d, station, query)),
  );
  const own = useOwnSculpt(sculpting);
  const list = own && !atPlace(own, station, query) ? [own, ...away] : away;
  if (list.length === 0) return null;
  const goOn = async (draft: Draft): Promise<void> => {
    if (draft.content.kind === "step") {
      await keepSteps([{ ...draft.content.step, trouble: "unreachable", told: "It was kept as a draft." }]);
      await dropDraft(draft.id);
      return;
    }
    await navigate(draftAddress(draft, viewToQuery(store.getState(), new URLSearchParams())));
  };
  const discard = (draft: Draft): void => {
    void endDraft(store, draft.id);
    setSure(null);
  };
  return (
    <section className="drafts" aria-label="In work">
      {(all ? list : list.slice(0, 1)).map((d) => (
        <div key={d.id} className="draft-line">
          <span className="grow">
            In work: {d.title}{" "}
            <span className="muted">
              {d.amount}
              {d.amount && ", "}
              {ago(d.changedAt)}, kept in this browser
            </span>
          </span>
          <Button onClick={() => void goOn(d)}>{d.content.kind === "step" ? "Send it" : "Go on"}</Button>
          {sure === d.id ? (
            <>
              <Button color="error" onClick={() => discard(d)}>
                Throw it away
              </Button>
              <Button onClick={() => setSure(null)}>Keep it</Button>
            </>
          ) : (
            <Button onClick={() => setSure(d.id)}>Discard</Button>
          )}
        </div>
      ))}
      {list.length > 1 && (
        <button type="button" className="plain draft-more" aria-expanded={all} onClick={() => setAll(!all)}>
          {all ? "Show the latest only" : `and ${list.length - 1} more`}
        </button>
      )}
    </section>
  );
}

/** The draft of the sculpt that this window works on, as it was kept last. */
function useOwnSculpt(id: string | undefined): Draft | null {
  const [draft, setDraft] = useState<Draft | null>(null);
  const { pathname, search } = useLocation();
  useEffect(() => {
    let wanted = true;
    if (id !== undefined)
      void draftOf(id)
        .then((d) => wanted && setDraft(d ?? null))
        .catch(() => {});
    return () => {
      wanted = false;
    };
  }, [id, pathname, search]);
  return id !== undefined && draft?.id === id ? draft : null;
}

/** At another station a sculpt rests as a draft, so that nothing there waits for it. */
function useParking(): void {
  const store = useSessionStore();
  const station = useLocation().pathname.split("/").pop();
  useEffect(() => {
    const { sculpt } = store.getState();
    if (sculpt && station !== (sculpt.motion ? "correctives" : "shapes")) putAway(store, "sculpt");
  }, [store, station]);
}

/** Takes up the draft that the address names, when the character is here. */
function useTakeUp(): void {
  const store = useSessionStore();
  const [query, setQuery] = useSearchParams();
  const { enqueueSnackbar } = useSnackbar();
  const loaded = useSession((s) => s.loaded !== null);
  const id = query.get("draft");
  useEffect(() => {
    if (!loaded || !id) return;
    const tellRefusal = (error: unknown): void =>
      void enqueueSnackbar(
        isUserError(error) ? `${error.message} The draft is kept.` : "The draft could not be taken up; it is kept.",
        { variant: "error" },
      );
    void draftOf(id)
      .then(async (draft) => draft && (await import("../session/kept/workDrafts")).takeUpDraft(store, draft))
      .catch(tellRefusal)
      .finally(() =>
        setQuery(
          () => {
            const next = new URLSearchParams(window.location.search);
            next.delete("draft");
            return next;
          },
          { replace: true, preventScrollReset: true },
        ),
      );
  }, [loaded, id, store, setQuery, enqueueSnackbar]);
}
