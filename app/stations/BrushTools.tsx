import IconButton from "@mui/material/IconButton";
import Redo from "@mui/icons-material/Redo";
import Undo from "@mui/icons-material/Undo";
import type { ReactNode } from "react";
import { SmallSwitch } from "../ui/SmallSwitch";
import { BRUSH_TOOLS, BRUSH_WORDS, FALL_OFFS } from "~core/correctives/brush";
import { redoInTool, undoInTool } from "../session/toolHistory";
import { useSession, useSessionStore } from "../session/session";
import { type BrushSettings } from "../session/slices/tools";
import { Segmented } from "../ui/Segmented";
import { BrushRadius, BrushStrength } from "./BrushSize";
import { setBrush } from "../session/slices/tools";

/** Changes the brush's settings. */
export const useBrush = (): [BrushSettings, (to: Partial<BrushSettings>) => void] => {
  const store = useSessionStore();
  const brush = useSession((s) => s.brush);
  return [brush, (to) => setBrush(store, to)];
};

/** Which brush, how wide, how strong; strokes back and forth. */
export function BrushTools(): ReactNode {
  const store = useSessionStore();
  const sculpt = useSession((s) => s.sculpt)!;
  const [brush, change] = useBrush();
  return (
    <>
      <div className="line">
        <Segmented label="Brush" options={BRUSH_TOOLS} value={brush.tool} onChange={(tool) => change({ tool })} />
      </div>
      <div className="line">
        <span className="muted t-small">{BRUSH_WORDS[brush.tool]}</span>
        <span className="grow" />
        <SmallSwitch label="both sides" checked={brush.symmetric} onChange={(on) => change({ symmetric: on })} />
        <IconButton
          size="small"
          aria-label="Undo stroke"
          title="Undo stroke (U)"
          disabled={sculpt.undo.length === 0}
          onClick={() => undoInTool(store, "sculpt")}>
          <Undo fontSize="inherit" />
        </IconButton>
        <IconButton
          size="small"
          aria-label="Redo stroke"
          title="Redo stroke (Shift U)"
          disabled={sculpt.redo.length === 0}
          onClick={() => redoInTool(store, "sculpt")}>
          <Redo fontSize="inherit" />
        </IconButton>
      </div>
      <div className="line t-small gap-14">
        <BrushRadius brush={brush} change={change} />
        <BrushStrength brush={brush} change={change} />
        <Segmented
          label="Fall-off"
          options={FALL_OFFS}
          value={brush.fallOff}
          onChange={(fallOff) => change({ fallOff })}
        />
      </div>
    </>
  );
}
