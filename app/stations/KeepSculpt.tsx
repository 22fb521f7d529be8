import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { useState, type ReactNode } from "react";
import { isUserError } from "~core/model/userError";
import { endWork } from "../session/kept/useKeepDrafts";
import type { Refusal, StepWithBlobs } from "../session/ledgerClient";
import { useSession, useSessionStore, type Loaded, type Session } from "../session/session";
import { useDesk } from "../session/useDesk";

/** A session in which a sculpt is under way. */
type Sculpting = Session & { readonly loaded: Loaded; readonly sculpt: NonNullable<Session["sculpt"]> };

export interface KeepSculptProps {
  /** What keeping is called here. */
  readonly says: string;
  readonly failed: string;
  readonly disabled?: boolean;
  /** The step that the sculpt becomes. */
  readonly step: (s: Sculpting) => Promise<StepWithBlobs & { readonly told?: string }>;
  readonly kept?: () => void;
  /** Stands before the buttons, on their line. */
  readonly children?: ReactNode;
}

/**
 * Keeps a sculpt as a step, or throws its strokes away after asking. Until the server has the step the sculpt stays
 * open.
 */
export function KeepSculpt({ says, failed, disabled, step: makeStep, kept, children }: KeepSculptProps): ReactNode {
  const store = useSessionStore();
  const strokes = useSession((s) => s.sculpt?.undo.length ?? 0);
  const { addFromDraft } = useDesk();
  const { enqueueSnackbar } = useSnackbar();
  const [refusal, setRefusal] = useState<{ text: string; why: Refusal["trouble"] } | null>(null);
  const [busy, setBusy] = useState(false);
  const [sure, setSure] = useState(false);
  const keep = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded || !s.sculpt) return;
    setBusy(true);
    setRefusal(null);
    try {
      const { sculpt } = s;
      const { told, ...made } = await makeStep({ ...s, loaded: s.loaded, sculpt });
      const refused = await addFromDraft(made, sculpt.draft);
      if (refused)
        setRefusal({
          text: `${refused.message} The sculpt stays open, and is kept in this browser.`,
          why: refused.trouble,
        });
      else {
        if (store.getState().sculpt?.draft === sculpt.draft) endWork(store, "sculpt");
        if (told) enqueueSnackbar(told, { variant: "info" });
        kept?.();
      }
    } catch (error) {
      setRefusal({ text: isUserError(error) ? error.message : failed, why: "refused" });
    }
    setBusy(false);
  };
  return (
    <>
      <div className="line">
        {children}
        <Button variant="contained" disabled={busy || strokes === 0 || disabled === true} onClick={() => void keep()}>
          {refusal?.why === "conflict" ? "Put mine on top" : says}
        </Button>
        {sure ? (
          <>
            <Button color="error" onClick={() => endWork(store, "sculpt")}>
              Throw {strokes} strokes away
            </Button>
            <Button onClick={() => setSure(false)}>Keep on</Button>
          </>
        ) : (
          <Button onClick={() => (strokes === 0 ? endWork(store, "sculpt") : setSure(true))}>
            {strokes === 0 ? "Stop" : "Discard"}
          </Button>
        )}
      </div>
      {refusal && (
        <div className="refusal" role="alert">
          {refusal.text}
        </div>
      )}
    </>
  );
}
