import { worldMatrices } from "../../evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, translationOf } from "../../math/mat4";
import { eyeballsOf } from "../../measure/eyeballs";
import type { Character, Skeleton } from "../../model/character";
import { changeWeights, weightChangeSchema } from "../../weights/changeWeights";
import { UserError } from "../../model/userError";
import { changeRest } from "../../skeleton/changeRest";
import { bendHinge, squareHinge } from "../../skeleton/hinges";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { readName, sharedPrefix, swapSide } from "../../names/nameWords";
import { removeJoints, reparentJoint } from "../../skeleton/rearrangeJoints";
import { renameJoints } from "../../skeleton/renameJoints";
import { partNamed } from "./places";
import { bindAllTo } from "./mendWeights";

function joint(character: Character, name: string): { skeleton: Skeleton; index: number } {
  const index = character.skeleton?.joints.findIndex((j) => j.name === name) ?? -1;
  if (index < 0)
    throw new UserError(
      `There is no joint named ${name}.`,
      "mend",
      "It may have been renamed or removed by another step.",
    );
  return { skeleton: character.skeleton!, index };
}
const mapOf = (character: Character): ReturnType<typeof humanoidMap> =>
  humanoidMap(character.skeleton!, character.jointMap);

/**
 * Gives a joint the word of the side it stands on; when the joint of that name stands wrong too, the two exchange their
 * names.
 */
export function nameBySide(character: Character, name: string): Character {
  const { skeleton, index } = joint(character, name);
  const right = swapSide(name);
  const world = worldMatrices(skeleton, {});
  const said = readName(name, sharedPrefix(skeleton.joints.map((j) => j.name))).side;
  if (said && translationOf(world, 16 * index)[0] > 0 === (said === "left"))
    throw new UserError(`${name} stands on its side.`, "mend", "");
  const taken = right === null ? -1 : skeleton.joints.findIndex((j) => j.name === right);
  if (right === null) throw new UserError(`${name} has no word for a side.`, "mend", "Rename it by hand.");
  if (taken < 0) return renameJoints(character, new Map([[name, right]]));
  if (Math.sign(translationOf(world, 16 * taken)[0]) === Math.sign(translationOf(world, 16 * index)[0]))
    throw new UserError(`${right} stands on that side already.`, "mend", "Rename one of them by hand.");
  return renameJoints(
    character,
    new Map([
      [name, right],
      [right, name],
    ]),
  );
}

/** Hangs a joint under the head, or binds a part that follows the wrong joint to the head or the jaw. */
export function hangOnHead(character: Character, jointName: string, partName: string | null): Character {
  const { index } = joint(character, jointName);
  const map = mapOf(character);
  const head = map.jointOfBone.get("head");
  if (head === undefined) throw new UserError("No joint is mapped to the head.", "mend", "Map it first.");
  if (partName === null) return reparentJoint(character, index, head);
  const { part } = partNamed(character, partName);
  const lower = part.kind === "tongue" || (part.kind === "teeth" && /low|bottom/i.test(part.name));
  return bindAllTo(character, partName, (lower ? map.jointOfBone.get("jaw") : undefined) ?? head);
}

/** Parts that go with the skin they lie on; the others stand on one joint. */
const ON_SKIN: ReadonlySet<string> = new Set(["garment", "lash", "tear line", "brow"]);

/**
 * Binds a part that came without a skin, by its kind: as the skin next to it, or to the head, the jaw or the eye that
 * it belongs to.
 */
export function bindUnbound(character: Character, partName: string): Character {
  const { part } = partNamed(character, partName);
  if (part.kind === "body")
    throw new UserError(`${partName} is the skin itself.`, "mend", "Bind it where the character was made.");
  if (ON_SKIN.has(part.kind))
    return changeWeights(character, partName, weightChangeSchema.parse({ tool: "take from skin", reachMm: 60 }));
  const map = mapOf(character);
  const head = map.jointOfBone.get("head");
  if (head === undefined) throw new UserError("No joint is mapped to the head.", "mend", "Map it first.");
  const lower = part.kind === "tongue" || (part.kind === "teeth" && /low|bottom/i.test(part.name));
  let across = 0;
  for (let i = 0; i < part.positions.length; i += 3) across += part.positions[i]!;
  const own =
    part.kind === "eye"
      ? map.jointOfBone.get(across > 0 ? "leftEye" : "rightEye")
      : lower
        ? map.jointOfBone.get("jaw")
        : undefined;
  return bindAllTo(character, partName, own ?? head);
}

export const straightenFrame = (character: Character, name: string): Character =>
  squareHinge(character, mapOf(character), name);
export const bendAtRest = (character: Character, name: string): Character =>
  bendHinge(character, mapOf(character), name);
export const dropJoint = (character: Character, name: string): Character =>
  removeJoints(character, new Set([joint(character, name).index]));

/** Moves an eye joint into the centre of the sphere fitted to the eyeball. */
export function centreEye(character: Character, jointName: string, partName: string): Character {
  const { skeleton, index } = joint(character, jointName);
  const { index: part } = partNamed(character, partName);
  const eye = eyeballsOf(character).find((e) => e.part === part);
  if (!eye) throw new UserError(`${partName} is no longer round.`, "mend", "");
  const rest = worldMatrices(skeleton, {});
  const { q, s } = decomposeTRS(rest, 16 * index);
  composeTRS(rest, 16 * index, [eye.centre[0], eye.centre[1], eye.centre[2]], q, s);
  return changeRest(character, rest);
}
