import { mergeJoints } from "../../skeleton/mergeJoints";
import { identityMat4 } from "../../math/mat4";
import { add, scale, sub, type Vec3 } from "../../math/vec3";
import { eyeballsOf } from "../../measure/eyeballs";
import { bindAllTo } from "../mend/mendWeights";
import type { Character } from "../../model/character";
import { uniqueName } from "../../model/uniqueName";
import { UserError } from "../../model/userError";
import { boneLabel } from "../../names/humanoidBones";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { bindChin } from "../../weights/jawWeights";

export const ADDABLE = ["jaw", "leftEye", "rightEye"] as const;
export type Addable = (typeof ADDABLE)[number];

/**
 * The jaw turns in front of the ear canal: this far below and behind the middle between the eyeballs, in distances of
 * their centres (from memory of adult faces).
 */
const HINGE = { down: 0.26, back: 0.96 };

/**
 * Where a missing joint belongs: an eye in the centre of its eyeball, the jaw at its hinge; null where the eyeballs are
 * not there. Metres, rest.
 */
export function placeFor(character: Character, bone: Addable): Vec3 | null {
  const eyes = eyeballsOf(character);
  if (bone !== "jaw") return (eyes.find((e) => `${e.side}Eye` === bone)?.centre as Vec3 | undefined) ?? null;
  const [left, right] = eyes;
  if (!left || !right) return null;
  const apart = Math.hypot(...sub(left.centre as Vec3, right.centre as Vec3));
  const middle = scale(add(left.centre as Vec3, right.centre as Vec3), 0.5);
  return [middle[0], middle[1] - HINGE.down * apart, middle[2] - HINGE.back * apart];
}

/**
 * Adds a joint of the face that is not there, under the head, its frame along the character's axes, and binds to it
 * what is rigid on it: the eyeball, or lower teeth and tongue.
 * With a jaw the skin of chin and lower lip is bound to it (bindChin); else the skin keeps its weights. @throws
 * UserError when the bone has a joint already, no head is mapped, or the landmarks are missing.
 */
export function addJoint(character: Character, bone: Addable): Character {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "add joint", "");
  const map = humanoidMap(skeleton, character.jointMap);
  if (map.jointOfBone.has(bone))
    throw new UserError(
      `${skeleton.joints[map.jointOfBone.get(bone)!]!.name} is the ${boneLabel(bone)} already.`,
      "add joint",
      "",
    );
  const head = map.jointOfBone.get("head");
  if (head === undefined) throw new UserError("No joint is mapped to the head.", "add joint", "Map it first.");
  const place = placeFor(character, bone);
  if (!place)
    throw new UserError(
      `Where the ${boneLabel(bone)} belongs cannot be told: the eyeballs are not there or not round.`,
      "add joint",
      "Take in the eyes first, or set their kind under Parts.",
    );
  const rest = identityMat4();
  rest.set(place, 12);
  const name = uniqueName(bone, new Set(skeleton.joints.map((j) => j.name)), bone);
  const index = skeleton.joints.length;
  const merged = mergeJoints(character, [{ name, parent: skeleton.joints[head]!.name, rest: Array.from(rest) }]);
  const grown: Character = { ...merged, jointMap: { ...merged.jointMap, [name]: bone } };
  const held =
    bone === "jaw"
      ? character.parts.filter((p) => p.kind === "tongue" || (p.kind === "teeth" && /low|bottom/i.test(p.name)))
      : eyeballsOf(character)
          .filter((e) => `${e.side}Eye` === bone)
          .map((e) => character.parts[e.part]!);
  const bound = held.reduce((c, p) => bindAllTo(c, p.name, index), grown);
  return bone === "jaw" ? bindChin(bound, index, head, place) : bound;
}
