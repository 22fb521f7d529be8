import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Redo from "@mui/icons-material/Redo";
import Undo from "@mui/icons-material/Undo";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { BRUSH_AREAS, BRUSH_TOOLS, FALL_OFFS } from "~core/correctives/brush";
import { isUserError } from "~core/model/userError";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { angleAlong } from "../../session/posing";
import { beginSculpt, endSculpt, redoStroke, sketchStep, undoStroke, usualPart } from "../../session/sculpt";
import { useSession, useSessionStore, type BrushSettings } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { ScrubField } from "../../ui/ScrubField";
import { Segmented } from "../../ui/Segmented";
import { IllNote } from "./IllNote";
import { ProposeSculpt } from "./ProposeSculpt";
import { SculptFile } from "./SculptFile";

/** Correcting in the pose: brushes on the stage, or a file to and fro; then back to rest. */
export function SculptBench({ motion }: { motion: JointMotion }): ReactNode {
  const store = useSessionStore();
  const sculpt = useSession((s) => s.sculpt);
  const pose = useSession((s) => s.pose);
  const parts = useSession((s) => s.loaded!.character.parts);
  const usual = useSession(usualPart);
  const [chosen, setChosen] = useState<number | null>(null);
  const [refusal, setRefusal] = useState("");
  const angle = angleAlong(motion, pose);
  const part = chosen ?? Math.max(0, usual);
  if (sculpt && sculpt.motion.id === motion.id) return <SculptTools motion={motion} />;
  const begin = (): void => {
    try {
      setRefusal("");
      beginSculpt(store, motion, null, part);
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : "Sculpting could not begin.");
    }
  };
  return (
    <div>
      <p className="label">Correct it in the pose</p>
      <div className="line">
        <Button variant="contained" disabled={angle === 0} onClick={begin}>{angle === 0 ? "Bend the joint first" : `Sculpt at ${angle}°`}</Button>
        <span className="muted" style={{ fontSize: 12.5 }}>on</span>
        <Select variant="standard" disableUnderline value={part} onChange={(e) => setChosen(e.target.value)} sx={{ fontSize: 12.5 }} inputProps={{ "aria-label": "Part to sculpt on" }}>
          {parts.map((p, i) => <MenuItem key={p.name} value={i}>{p.name}</MenuItem>)}
        </Select>
        <ProposeSculpt motion={motion} angle={angle} />
        <SculptFile motion={motion} angle={angle} />
      </div>
      {refusal && <div className="refusal" role="alert" style={{ marginTop: 8 }}>{refusal}</div>}
    </div>
  );
}

function SculptTools({ motion }: { motion: JointMotion }): ReactNode {
  const store = useSessionStore();
  const sculpt = useSession((s) => s.sculpt)!;
  const brush = useSession((s) => s.brush);
  const measured = useSession((s) => s.measured);
  const pose = useSession((s) => s.pose);
  const part = useSession((s) => s.loaded!.character.parts[sculpt.sketch.part]!.name);
  const { addStep } = useDesk();
  const angle = angleAlong(motion, pose);
  const [name, setName] = useState(sculpt.editing ?? `${motion.label} ${angle}`);
  const [refusal, setRefusal] = useState("");
  const [busy, setBusy] = useState(false);
  const [sure, setSure] = useState(false);
  const change = (to: Partial<BrushSettings>): void => store.setState({ brush: { ...brush, ...to } });
  const keep = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded || !s.sculpt) return;
    setBusy(true);
    setRefusal("");
    try {
      const { step, blobs } = await sketchStep({ ...s, loaded: s.loaded, sculpt: s.sculpt }, name.trim() || motion.label);
      await addStep(step, blobs);
      endSculpt(store);
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : "The sculpt could not be returned to rest.");
      setBusy(false);
    }
  };
  const strokes = sculpt.undo.length;
  return (
    <div aria-label="Sculpting" role="group" style={{ display: "grid", gap: 8 }}>
      <p className="label" style={{ margin: 0 }}>{sculpt.editing ? <>Sculpting <b>{sculpt.editing}</b> again on {part}</> : <>Stroke over {part} on the stage</>}, {angle}° held</p>
      <div className="line">
        <Segmented label="Brush" options={BRUSH_TOOLS} value={brush.tool} onChange={(tool) => change({ tool })} />
        <FormControlLabel control={<Switch size="small" checked={brush.symmetric} onChange={(e) => change({ symmetric: e.target.checked })} />} label="both sides" slotProps={{ typography: { sx: { fontSize: 12.5 } } }} sx={{ mr: 0, ml: 0 }} />
        <span className="grow" />
        <IconButton size="small" aria-label="Undo stroke" title="Undo stroke (U)" disabled={strokes === 0} onClick={() => undoStroke(store)}><Undo fontSize="inherit" /></IconButton>
        <IconButton size="small" aria-label="Redo stroke" title="Redo stroke (Shift U)" disabled={sculpt.redo.length === 0} onClick={() => redoStroke(store)}><Redo fontSize="inherit" /></IconButton>
      </div>
      <div className="line" style={{ fontSize: 12.5, gap: 14 }}>
        <span>radius <ScrubField label="Brush radius" value={brush.radiusMm} min={2} max={200} step={0.5} digits={0} unit=" mm" start={30} onChange={(radiusMm) => change({ radiusMm })} /></span>
        <span>strength <ScrubField label="Brush strength" value={brush.strength} min={0.02} max={1} step={0.01} start={0.5} onChange={(strength) => change({ strength })} /></span>
        <Segmented label="Fall-off" options={FALL_OFFS} value={brush.fallOff} onChange={(fallOff) => change({ fallOff })} />
      </div>
      <div className="line" style={{ fontSize: 12.5 }}>
        <span>acts</span>
        <Segmented label="Where the brush acts" options={BRUSH_AREAS} value={brush.area} onChange={(area) => change({ area })} />
        {brush.area !== "anywhere" && measured?.joint !== sculpt.joint && <span className="muted">waiting for the joint's region</span>}
      </div>
      <IllNote part={part} vertices={[...sculpt.sketch.ill]} version={sculpt.version} />
      <div className="line">
        {!sculpt.editing && <TextField value={name} onChange={(e) => setName(e.target.value)} sx={{ width: 190 }} slotProps={{ htmlInput: { "aria-label": "Name of the corrective", maxLength: 120 } }} />}
        <Button variant="contained" disabled={busy || strokes === 0} onClick={() => void keep()}>Return to rest pose</Button>
        {sure ? <><Button color="error" onClick={() => endSculpt(store)}>Throw {strokes} strokes away</Button><Button onClick={() => setSure(false)}>Keep on</Button></> : <Button onClick={() => (strokes === 0 ? endSculpt(store) : setSure(true))}>{strokes === 0 ? "Stop" : "Discard"}</Button>}
      </div>
      {refusal && <div className="refusal" role="alert">{refusal}</div>}
    </div>
  );
}
