import type { Character } from "../model/character";
import { sideOfBone } from "../names/humanoidBones";
import { humanoidMap } from "../skeleton/humanoidMap";

/** Bones whose upper end lies close under the skin on the outside of the bend: elbow, knee, knuckles. */
const BONY = /^(LowerArm|LowerLeg|(Thumb|Index|Middle|Ring|Little)(Proximal|Intermediate|Distal))$/;

const known = new WeakMap<object, ReadonlySet<number>>();
/** Joints over whose tip skin lies close over bone. Common practice, no source. */
export function bonyJoints({ skeleton, jointMap }: Character): ReadonlySet<number> {
  if (!skeleton) return new Set();
  const found =
    known.get(skeleton) ??
    new Set(
      [...humanoidMap(skeleton, jointMap).jointOfBone].flatMap(([bone, joint]) =>
        BONY.test(bone.slice((sideOfBone(bone) ?? "").length)) ? [joint] : [],
      ),
    );
  known.set(skeleton, found);
  return found;
}
