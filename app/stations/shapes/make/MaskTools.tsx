import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { SmallSwitch } from "../../../ui/SmallSwitch";
import { changeMask } from "~core/correctives/paintedMask";
import { subtreeOf, weightShare } from "~core/measure/jointRegion";
import { useSession, useSessionStore } from "../../../session/session";
import { useBrush } from "../../BrushTools";
import { undoInTool } from "../../../session/toolHistory";
import { BrushRadius } from "../../BrushSize";
import { paintMask, strokeEnded } from "../../../session/slices/tools";

/** Painting a mask over a part on the stage. @param says what the painted skin is for. */
export function MaskTools({ part, says, onPaint }: { part: number; says: string; onPaint?: () => void }): ReactNode {
  const store = useSessionStore();
  const mask = useSession((s) => s.mask);
  const P = useSession((s) => s.loaded?.character.parts[part]?.positions);
  const joint = useSession((s) => s.joint);
  const [brush, change] = useBrush();
  if (!P) return null;
  const own = mask?.of.part === part && mask.of.values.length === P.length / 3 ? mask : null;
  const painted = own ? own.of.values.reduce((n, x) => n + (x > 0.5 ? 1 : 0), 0) : 0;
  const paint = (painting: boolean): void => {
    if (painting) onPaint?.();
    paintMask(store, part, P, painting);
  };
  const whole = (what: "clear" | "invert"): void => {
    if (!own) return;
    const record = changeMask(own.of, what);
    strokeEnded(store, "mask", record);
  };
  /** Lays the skin that a joint and what hangs on it hold onto the mask. */
  const fromJoint = (): void => {
    const { loaded, joint: chosen } = store.getState();
    const index = loaded?.character.skeleton?.joints.findIndex((j) => j.name === chosen) ?? -1;
    if (!own || !loaded || index < 0) return;
    const share = weightShare(loaded.character.parts[part]!, subtreeOf(loaded.character, index));
    const record = new Map<number, number>();
    share.forEach((x, v) => {
      if (x <= own.of.values[v]!) return;
      record.set(v, own.of.values[v]!);
      own.of.values[v] = x;
    });
    strokeEnded(store, "mask", record);
  };
  const takeBack = (): void => undoInTool(store, "mask");
  return (
    <div role="group" aria-label="Painted mask" className="stack gap-6 t-small">
      <div className="line">
        <Button
          aria-pressed={own?.painting ?? false}
          variant={own?.painting ? "contained" : "outlined"}
          onClick={() => paint(!own?.painting)}>
          {own?.painting ? "Stop painting" : painted ? "Paint on" : "Paint the mask"}
        </Button>
        <span className="muted grow">
          {painted ? `${painted.toLocaleString("en")} vertices ${says}` : `nothing is ${says}`}
        </span>
      </div>
      {own?.painting && (
        <div className="line gap-12">
          <BrushRadius brush={brush} change={change} />
          <SmallSwitch label="both sides" checked={brush.symmetric} onChange={(on) => change({ symmetric: on })} />
          <Button disabled={own.undo.length === 0} onClick={takeBack}>
            Take back a stroke
          </Button>
          <Button disabled={painted === 0} onClick={() => whole("clear")}>
            Clear
          </Button>
          <Button onClick={() => whole("invert")}>Invert</Button>
          <Button
            disabled={!joint}
            onClick={fromJoint}
            title={
              joint
                ? `Adds the skin that ${joint} and what hangs on it hold`
                : "Show joints on the stage and click one first"
            }>
            Skin of {joint ?? "a joint"}
          </Button>
          <span className="muted">with Shift the brush takes away</span>
        </div>
      )}
    </div>
  );
}
