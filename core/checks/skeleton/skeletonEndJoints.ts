import { dropJoint } from "../../edits/mend/mendSkeleton";
import { check } from "../check";
import { finding } from "../finding";

/** Joints that hold no weight and carry nothing, outside the humanoid map. */
export const skeletonEndJoints = check({
  id: "skeleton.end-joints",
  title: "End joints without weight",
  station: "skeleton",
  unit: "joints",
  measures: "joints without weight and without children, outside the humanoid map",
  severity: "note",
  limits: {},
  limitWords: "note",
  source: "common practice, no source",
  mend: { says: (f) => `Removes ${f.joint}.`, apply: (c, f) => dropJoint(c, f.joint!) },
  run: (character, { humanoid }) => {
    const { skeleton } = character;
    if (!skeleton) return [];
    const busy = new Uint8Array(skeleton.joints.length);
    for (const part of character.parts)
      part.skin?.weights.forEach((w, n) => w > 0 && (busy[part.skin!.joints[n]!] = 1));
    skeleton.joints.forEach((j) => j.parent >= 0 && (busy[j.parent] = 1));
    const animated = new Set(character.clips.flatMap((c) => c.tracks.map((t) => t.joint)));
    return skeleton.joints
      .filter((joint, j) => !busy[j] && !humanoid?.boneOfJoint[j] && !animated.has(joint.name))
      .map((joint) =>
        finding({
          check: "skeleton.end-joints",
          severity: "note",
          joint: joint.name,
          value: 1,
          unit: "joints",
          limit: 0,
          message: `${joint.name} holds no weight and has nothing under it; it can go.`,
        }),
      );
  },
});
