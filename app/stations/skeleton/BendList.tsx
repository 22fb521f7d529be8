import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { boneLabel } from "~core/names/humanoidBones";
import { angleAlong, poseMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { FindField } from "../../ui/FindField";
import { RangeRibbon } from "../../ui/RangeRibbon";
import { JointWork } from "./JointWork";
import { ScrubField } from "../../ui/ScrubField";
import { useQueryState } from "../../ui/useQueryState";
import { lookAtJoint, setView } from "../../session/slices/view";

/** All joints; the open one shows a ribbon for every direction it moves in, and its weights on the stage. */
export function BendList(): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const pose = useSession((s) => s.pose);
  const [open, setOpen] = useQueryState<string>("open", "");
  const [find, setFind] = useState("");
  if (!loaded) return <p className="muted p-8-18">Fetching the character</p>;
  const { character, humanoid, motions } = loaded;
  if (!character.skeleton)
    return <p className="p-8-18">This delivery has no skeleton. Ask for the skinned character as one .glb.</p>;
  const bent = Object.keys(pose).length;
  const rows = character.skeleton.joints
    .map((j, i) => ({
      name: j.name,
      bone: humanoid?.boneOfJoint[i] ?? null,
      inSkin: character.skeleton!.inSkin[i] === 1,
    }))
    .filter((j) => `${j.name} ${j.bone ? boneLabel(j.bone) : ""}`.toLowerCase().includes(find.toLowerCase()));
  return (
    <>
      <div className="sheet-tools p-10-18-8 m-0">
        <FindField label="Find a joint" value={find} onChange={setFind} />
        <span className="muted nowrap">{rows.length} joints</span>
        <Button disabled={bent === 0} onClick={() => setView(store, { pose: {} })}>
          Rest pose
        </Button>
      </div>
      <div className="sheet-body">
        {rows.map((j) => {
          const isOpen = open === j.name;
          const own = motions.filter((m) => m.joint === j.name);
          return (
            <div key={j.name} className={`row${isOpen ? " open" : ""}`}>
              <button
                type="button"
                className="plain row-line"
                aria-expanded={isOpen}
                onClick={() => {
                  setOpen(isOpen ? "" : j.name);
                  if (isOpen) setView(store, { reading: "skin" });
                  else lookAtJoint(store, j.name, { joints: true, reading: "weights" });
                }}>
                <span className="mono grow">{j.name}</span>
                <span className="muted nowrap t-small">
                  {j.bone ? boneLabel(j.bone) : j.inSkin ? "not mapped" : "holds no skin"}
                </span>
                {pose[j.name] && <span className="mono nowrap">bent</span>}
              </button>
              {isOpen && (
                <div className="row-body">
                  {own.length === 0 && (
                    <p className="muted m-0-0-6">No range of motion is known: the joint is not in the humanoid map.</p>
                  )}
                  {own.map((m) => (
                    <MotionLine key={m.id} motion={m} />
                  ))}
                  <JointWork key={loaded.state} skeleton={character.skeleton!} joint={j.name} />
                </div>
              )}
            </div>
          );
        })}
      </div>
    </>
  );
}

interface MotionLineProps {
  readonly motion: JointMotion;
}
function MotionLine({ motion }: MotionLineProps): ReactNode {
  const store = useSessionStore();
  const pose = useSession((s) => s.pose);
  return (
    <div className="line one-row min-h-28">
      <span className="wide-62">{motion.name}</span>
      <RangeRibbon
        label={`${motion.label}, degrees`}
        min={motion.min}
        max={motion.max}
        readings={[]}
        angle={angleAlong(motion, pose)}
        brackets={[]}
        onPick={(a) => poseMotion(store, motion, a)}
      />
      <span className="wide-62 to-right">
        <ScrubField
          label={`Angle of ${motion.label}`}
          value={angleAlong(motion, pose)}
          min={motion.min}
          max={motion.max}
          step={1}
          digits={0}
          unit="°"
          onChange={(a) => poseMotion(store, motion, a)}
        />
      </span>
      <span className="mono muted nowrap wide-74 to-right t-tiny">
        {motion.min}° to {motion.max}°
      </span>
    </div>
  );
}
