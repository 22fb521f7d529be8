import Button from "@mui/material/Button";
import { useCallback, useEffect, useState, type ReactNode } from "react";
import type { Repair } from "~core/edits/repairs/repairs";
import type { SeatReading } from "~core/edits/repairs/headFit";
import { isUserError } from "~core/model/userError";
import type { RepairPreview } from "~jobs/operations/repairPreview";
import { askJob } from "../session/jobs/pageJobs";
import { useSession, useSessionStore } from "../session/session";
import { useDesk } from "../session/useDesk";
import { Working } from "./Working";
import { counted } from "../ui/counted";
import { markPlace } from "../session/slices/selection";

export interface RepairToolProps {
  readonly title: string;
  readonly button: string;
  /** What would be done as the fields stand; null while there is nothing to do. */
  readonly repair: Repair | null;
  readonly children?: ReactNode;
  /** Looks at the change by itself a moment after a field was changed. */
  readonly live?: boolean;
  readonly onDone?: () => void;
}

const PAUSE = 250;

/** One repair: its fields, what it would change in numbers, and the button that makes it a step. */
export function RepairTool({ title, button, repair, children, live = false, onDone }: RepairToolProps): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const { addStep } = useDesk();
  const [seen, setSeen] = useState<{ key: string; preview: RepairPreview | null; refusal: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const [looking, setLooking] = useState(false);
  const key = repair && loaded ? `${loaded.state} ${JSON.stringify(repair)}` : "";
  const known = seen?.key === key ? seen : null;
  const look = useCallback(async (): Promise<void> => {
    const now = store.getState().loaded;
    const asked = key && (JSON.parse(key.slice(key.indexOf(" ") + 1)) as Repair);
    if (!now || !asked) return;
    setLooking(true);
    try {
      const preview = await askJob(now, "repair preview", { repair: asked });
      setSeen({ key, preview, refusal: "" });
      if (preview.outside) markPlace(store, { part: preview.outside.part, vertices: preview.outside.vertices });
    } catch (error) {
      const refusal = isUserError(error)
        ? [error.what, error.todo].filter(Boolean).join(" ")
        : "What it would change could not be measured.";
      setSeen({ key, preview: null, refusal });
    } finally {
      setLooking(false);
    }
  }, [store, key]);
  useEffect(() => {
    if (!live || !key) return;
    const timer = setTimeout(() => void look(), PAUSE);
    return () => clearTimeout(timer);
  }, [live, key, look]);
  const make = async (): Promise<void> => {
    if (!repair) return;
    setBusy(true);
    if (await addStep({ op: "repair", repair })) onDone?.();
    setBusy(false);
  };
  return (
    <div role="group" aria-label={title} className="stack gap-4">
      <div className="line t-small one-row align-flex-start">
        <span className="wide-104 rigid w-550 pt-6">{title}</span>
        <span className="line take-rest min-w-0 gap-4-8 pt-4">{children}</span>
        {!live && (
          <Button sx={{ flex: "none" }} disabled={!repair || busy} onClick={() => void look()}>
            Preview
          </Button>
        )}
        <Button
          sx={{ flex: "none" }}
          variant="outlined"
          disabled={!repair || busy || Boolean(known?.refusal)}
          onClick={() => void make()}>
          {button}
        </Button>
      </div>
      <Working on={busy} />
      {looking && (
        <p role="status" className="muted m-0 t-small">
          Measuring what it would change…
        </p>
      )}
      {!looking && known?.preview && (
        <p role="status" className="muted m-0 t-small">
          {changeWords(known.preview)}
        </p>
      )}
      {known?.refusal && (
        <div className="refusal" role="alert">
          {known.refusal}
        </div>
      )}
    </div>
  );
}

const lies = ({ covered, heightMm, unevenMm, out }: SeatReading): string =>
  covered === 0
    ? "off the head"
    : `covers ${Math.round(100 * covered)} % of the head's upper half, ${heightMm.toFixed(1)} mm over ` +
      `the skin, uneven by ${unevenMm.toFixed(1)} ` +
      `mm${out > 0 ? `, skin out of it at ${Math.max(1, Math.round(100 * out))} %` : ""}`;

function changeWords({ changes, outside, face, onHead }: RepairPreview): string {
  const counts = changes
    .map(
      (c) =>
        `${c.of} ${c.before.toLocaleString("en", { maximumFractionDigits: c.digits })} ` +
        `→ ${c.after.toLocaleString("en", { maximumFractionDigits: c.digits })}`,
    )
    .join(" · ");
  const skin = onHead
    ? `There it ${lies(onHead.then)} (now ${lies(onHead.now)}).`
    : outside &&
      (outside.count
        ? `Skin stands out of it at ${counted(outside.count, "vertices")} ` +
          `there (${outside.now} now), at most ${outside.depthMm.toFixed(1)} mm.`
        : `No skin stands out of it there (${counted(outside.now, "vertices")} now).`);
  const told =
    face &&
    (face.length
      ? `Face checks would find ${face.length}: ${face
          .slice(0, 3)
          .map((f) => f.message)
          .join(" ")}${face.length > 3 ? " And others." : ""}`
      : "The face checks would find nothing.");
  return [counts || (outside || face || onHead ? "" : "Nothing changes."), skin, told].filter(Boolean).join(" ");
}
