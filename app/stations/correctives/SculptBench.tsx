import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { SmallSwitch } from "../../ui/SmallSwitch";
import { BRUSH_AREAS } from "~core/correctives/brush";
import { isUserError } from "~core/model/userError";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { angleAlong } from "../../session/posing";
import { beginSculpt, sketchStep, usualPart } from "../../session/sculpt";
import { useSession, useSessionStore } from "../../session/session";
import { MaskTools } from "../shapes/make/MaskTools";
import { Segmented } from "../../ui/Segmented";
import { BrushTools, useBrush } from "../BrushTools";
import { KeepSculpt } from "../KeepSculpt";
import { IllNote } from "./IllNote";
import { ProposeSculpt } from "./ProposeSculpt";
import { SculptFile } from "./SculptFile";
import { nameSculpt } from "../../session/slices/tools";
import { Refused } from "../../ui/Refused";

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
  if (sculpt && sculpt.motion?.id === motion.id) return <SculptTools motion={motion} />;
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
        <Button variant="contained" disabled={angle === 0} onClick={begin}>
          {angle === 0 ? "Bend the joint first" : `Sculpt at ${angle}°`}
        </Button>
        <span className="muted t-small">on</span>
        <SmallSelect label="Part to sculpt on" value={part} onChange={setChosen}>
          {parts.map((p, i) => (
            <MenuItem key={p.name} value={i}>
              {p.name}
            </MenuItem>
          ))}
        </SmallSelect>
        <ProposeSculpt motion={motion} angle={angle} />
        <SculptFile motion={motion} angle={angle} />
      </div>
      <Refused why={refusal} place="mt-8" />
    </div>
  );
}

function SculptTools({ motion }: { motion: JointMotion }): ReactNode {
  const sculpt = useSession((s) => s.sculpt)!;
  const [brush, change] = useBrush();
  const measured = useSession((s) => s.measured);
  const pose = useSession((s) => s.pose);
  const part = useSession((s) => s.loaded!.character.parts[sculpt.sketch.part]!.name);
  const hasClothes = useSession(
    (s) => s.loaded!.character.parts[sculpt.sketch.part]!.kind === "body" && s.loaded!.character.parts.length > 1,
  );
  const angle = angleAlong(motion, pose);
  const byAngle = useSession(
    (s) => !sculpt.editing || s.loaded!.character.drivers.some((d) => d.shape === sculpt.editing),
  );
  const store = useSessionStore();
  const name = sculpt.name ?? sculpt.editing ?? `${motion.label} ${angle}`;
  const setName = (to: string): void => nameSculpt(store, to);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    box.current?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <div ref={box} aria-label="Sculpting" role="group" className="stack gap-8">
      <p className="label m-0">
        {sculpt.editing ? (
          <>
            Sculpting <b>{sculpt.editing}</b> again on {part}
          </>
        ) : (
          <>Stroke over {part} on the stage</>
        )}
        {byAngle ? `, ${angle}° held` : ", the pose held"}
      </p>
      <BrushTools />
      <div className="line t-small">
        <span>acts</span>
        <Segmented
          label="Where the brush acts"
          options={BRUSH_AREAS}
          value={brush.area}
          onChange={(area) => change({ area })}
        />
        {brush.area !== "anywhere" && brush.area !== "painted" && measured?.joint !== sculpt.joint && (
          <span className="muted">waiting for the joint's region</span>
        )}
      </div>
      {brush.area === "painted" && <MaskTools part={sculpt.sketch.part} says="open to the brush" />}
      <SmallSwitch
        label="shown subdivided, as it will be rendered"
        checked={brush.finer}
        onChange={(on) => change({ finer: on })}
      />
      {hasClothes && (
        <SmallSwitch
          label="clothes and what lies on the skin go along"
          checked={brush.clothes}
          onChange={(on) => change({ clothes: on })}
        />
      )}
      <IllNote part={part} vertices={[...sculpt.sketch.ill]} version={sculpt.version} />
      <KeepSculpt
        says="Return to rest pose"
        failed="The sculpt could not be returned to rest."
        step={(now) => sketchStep(now, name.trim() || motion.label, now.brush.clothes)}>
        {!sculpt.editing && (
          <TextField
            value={name}
            onChange={(e) => setName(e.target.value)}
            sx={{ width: 190 }}
            slotProps={{ htmlInput: { "aria-label": "Name of the corrective", maxLength: 120 } }}
          />
        )}
      </KeepSculpt>
    </div>
  );
}
