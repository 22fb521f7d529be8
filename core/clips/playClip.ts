import type { MomentSource } from "../evaluate/moment";
import { NO_JOINT, type Character, type Clip } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";

const known = new WeakMap<Character, readonly string[]>();

/** Joints that a clip may carry about: the pelvis and what it hangs on; of a skeleton without one, its roots. */
function travellersOf(character: Character): readonly string[] {
  const found = known.get(character);
  if (found || !character.skeleton) return found ?? [];
  const { joints } = character.skeleton;
  const hips = humanoidMap(character.skeleton, character.jointMap).jointOfBone.get("hips");
  const out: string[] = [];
  if (hips === undefined) out.push(...joints.filter((j) => j.parent === NO_JOINT).map((j) => j.name));
  else for (let j = hips; j !== NO_JOINT; j = joints[j]!.parent) out.push(joints[j]!.name);
  known.set(character, out);
  return out;
}

/** A clip of the character as a source of its moments. @param share 0..1, how much of it counts. */
export const playClip = (character: Character, clip: Clip, seconds: number, share = 1): MomentSource => ({
  kind: "clip",
  clip,
  seconds,
  travellers: travellersOf(character),
  share,
});
