import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { NO_JOINT } from "~core/model/character";
import { jointsRead } from "~core/model/terms/driverTerms";
import type { SampleSet } from "~core/model/poseDriver";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { beginSamples } from "../../../session/poseDrivers";
import { useSession, type Loaded } from "../../../session/session";
import { PoseDriverItem } from "./PoseDriverItem";
import { SampleSetItem } from "./SampleSetItem";

/** What acts by this joint in more than one direction: readings of a pose together, and sampled poses. */
export function DriversHere({ motion }: { motion: JointMotion }): ReactNode {
  const loaded = useSession((s) => s.loaded!);
  const sculpting = useSession((s) => s.sculpt !== null);
  const [begun, setBegun] = useState<SampleSet | null>(null);
  const { character } = loaded;
  const readings = (character.poseDrivers ?? []).filter((d) => jointsRead(d.terms).includes(motion.joint));
  const sets = (character.sampleSets ?? []).filter((s) => s.joints.some((j) => j.joint === motion.joint));
  const limb = swingingAbove(loaded, motion.joint);
  return (
    <>
      {readings.length > 0 && (
        <div>
          <p className="label">Correctives by several readings</p>
          {readings.map((d) => (
            <PoseDriverItem key={d.shape} driver={d} motion={motion} />
          ))}
        </div>
      )}
      <div>
        <p className="label">Sampled poses</p>
        {sets.map((s) => (
          <SampleSetItem key={s.name} set={s} motion={motion} kept />
        ))}
        {begun && !sets.some((s) => s.name === begun.name) && (
          <SampleSetItem set={begun} motion={motion} kept={false} onKept={() => setBegun(null)} />
        )}
        {!begun && (
          <div className="line t-small ml-n8">
            <Button
              disabled={sculpting}
              title="Poses in which the joint swings and twists at once, each with its own shape"
              onClick={() => setBegun(beginSamples(loaded, [motion.joint]))}>
              Begin poses of {motion.joint}
            </Button>
            {limb && (
              <Button
                disabled={sculpting}
                title="Poses of two joints at once"
                onClick={() => setBegun(beginSamples(loaded, [limb, motion.joint]))}>
                with {limb}
              </Button>
            )}
          </div>
        )}
        {begun && (
          <p className="muted t-small m-0">
            Click the chart to point the bone, turn it by its motions, then sample the pose.
          </p>
        )}
      </div>
    </>
  );
}

/** The nearest joint above that does more than twist; null where there is none. */
function swingingAbove({ character, motions }: Loaded, joint: string): string | null {
  const joints = character.skeleton?.joints ?? [];
  for (let j = joints.find((x) => x.name === joint)?.parent ?? NO_JOINT; j !== NO_JOINT; j = joints[j]!.parent)
    if (motions.some((m) => m.joint === joints[j]!.name && m.name !== "twist")) return joints[j]!.name;
  return null;
}
