import { worldMatrices } from "../evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, invertAffine, translationOf } from "../math/mat4";
import { conjugate, fromAxes, rotate } from "../math/quat";
import { add, cross, dot, length, normalize, pointAt, scale, sub, type Vec3 } from "../math/vec3";
import { vertexCountOf, type Character, type Part, type Skeleton } from "../model/character";
import type { TwistJoint } from "../model/twistJoint";
import { UserError } from "../model/userError";
import { liesInLimb, limbLine, type LimbLine } from "../skeleton/limbLine";
import { mergeJoints } from "../skeleton/mergeJoints";
import { denseWeights, packWeights } from "./denseWeights";

/** A limb whose twist is spread: the joint that twists it, the joint at which it ends, and over how many steps. */
export interface TwistLimb {
  readonly joint: string;
  readonly end: string;
  /** Steps from the skin that does not turn to that which turns in full, 2..8. */
  readonly steps: number;
}

/** Where along the limb, 0..1, the twist begins and is complete, for a limb that its own first joint twists. */
const BEGINS = 0.08;
const COMPLETE = 0.92;

/** `arm_twist1_l` of `arm_l`, `leftArmTwist1` of `leftArm` and of `leftArmTwist`. */
const nameOf = (joint: string, n: number): string => {
  const [, stem, side = ""] = /^(.+?)([._-](?:l|r|left|right))?$/i.exec(joint)!;
  if (/(twist|roll)$/i.test(stem!)) return `${stem}${n}${side}`;
  return `${stem}${side ? "_twist" : "Twist"}${n}${side}`;
};

/**
 * The character with joints along a limb that share its twist evenly, and the limb's weights spread over them: skin
 * that turned by half as a blend of two joints turns as a whole now. In poses without twist nothing moves by more than
 * what is dropped where a vertex holds more joints than its part allows.
 * @throws UserError when joints are missing, are there already, or the count is out of range.
 */
export function spreadTwist(character: Character, limb: TwistLimb): Character {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "add twist joints", "");
  if (!(limb.steps >= 2 && limb.steps <= 8))
    throw new UserError("A twist is spread over 2 to 8 steps.", "add twist joints", "");
  if (character.twistJoints?.some((t) => t.of === limb.joint))
    throw new UserError(`The twist of ${limb.joint} is spread already.`, "add twist joints", "Undo that step first.");
  const inLimb = liesInLimb(skeleton, limb.joint, limb.end);
  const line = limbLine(skeleton, limb.joint, limb.end, inLimb);
  const world = worldMatrices(skeleton, {});
  const way = sub(line.to, line.from);
  const bone = normalize(way);
  const { q: frame, s: size } = decomposeTRS(world, 16 * line.joint);
  // with x along the bone: roll constraints of VRM 1.0 turn about an axis of the joint's own frame
  const side = normalize(cross(bone, Math.abs(bone[1]) < 0.9 ? [0, 1, 0] : [0, 0, 1]));
  const upright = fromAxes(bone, cross(side, bone), side);
  const axis = rotate(conjugate(frame), bone);
  // shares of the joints to be added: the limb's own joints stand for none (within it) and for all of the twist
  const shares = Array.from({ length: inLimb ? limb.steps - 1 : limb.steps }, (_, i) =>
    inLimb ? (i + 1) / limb.steps : i / limb.steps,
  );
  const parent = inLimb ? line.first : line.joint;
  const names = shares.map((_, i) => nameOf(skeleton.joints[line.joint]!.name, i + 1));
  const merged = mergeJoints(
    character,
    shares.map((share, i) => {
      const rest = new Float64Array(16);
      const along = inLimb
        ? share * length(sub(translationOf(world, 16 * line.joint), line.from))
        : share * length(way);
      composeTRS(rest, 0, add(line.from, scale(bone, along)), upright, size);
      return { name: names[i]!, parent: skeleton.joints[parent]!.name, rest: Array.from(rest) };
    }),
  );
  const first = skeleton.joints.length;
  const added = shares.map((share, i): TwistJoint => ({
    joint: names[i]!,
    of: limb.joint,
    axis,
    about: [1, 0, 0],
    share: inLimb ? share : share - 1,
  }));
  // joints of the limb by the share that they take, lowest first
  const steps = inLimb
    ? [line.first, ...shares.map((_, i) => first + i), line.joint]
    : [...shares.map((_, i) => first + i), line.joint];
  const jointCount = merged.skeleton!.joints.length;
  return {
    ...merged,
    jointMap: { ...merged.jointMap, ...Object.fromEntries(names.map((n) => [n, null])) },
    twistJoints: [...(merged.twistJoints ?? []), ...added],
    parts: merged.parts.map((p) => spreadPart(p, jointCount, boundLine(p, skeleton, line), inLimb, steps)),
  };
}

/** The limb's line where the part is bound: it may be bound in another pose than it rests in. */
function boundLine(part: Part, { inverseBinds }: Skeleton, line: LimbLine): LimbLine {
  const bound = new Float64Array(16);
  const place = (joint: number): Vec3 => {
    invertAffine(bound, 0, part.skin?.inverseBinds ?? inverseBinds, 16 * joint);
    return translationOf(bound, 0);
  };
  return { ...line, from: place(line.first), to: place(line.end) };
}

/** A part with what it holds of the limb spread over the joints that share its twist. */
function spreadPart(
  part: Part,
  jointCount: number,
  { joint, first, from, to }: LimbLine,
  inLimb: boolean,
  steps: readonly number[],
): Part {
  const { skin } = part;
  if (!skin?.joints.some((j, i) => j === joint && skin.weights[i]! > 0)) return part;
  const dense = denseWeights(part, jointCount);
  const way = sub(to, from);
  for (let v = 0; v < vertexCountOf(part); v++) {
    const row = v * jointCount;
    const turned = dense[row + joint]!;
    const still = inLimb ? dense[row + first]! : 0;
    const held = turned + still;
    if (turned <= 0 || held <= 0) continue;
    const along = dot(sub(pointAt(part.positions, v), from), way) / dot(way, way);
    const share = inLimb ? turned / held : Math.min(1, Math.max(0, (along - BEGINS) / (COMPLETE - BEGINS)));
    const at = Math.min(steps.length - 2, Math.floor(share * (steps.length - 1)));
    dense[row + joint] = 0;
    if (inLimb) dense[row + first] = 0;
    let others = 0;
    for (let j = 0; j < jointCount; j++) if (dense[row + j]! > 0) others++;
    // a vertex that has no room for two of the limb's joints takes the nearer one
    const between = share * (steps.length - 1) - at;
    const t = others + 2 > skin.influenceCount ? Math.round(between) : between;
    dense[row + steps[at]!]! += held * (1 - t);
    dense[row + steps[at + 1]!]! += held * t;
  }
  return { ...part, skin: packWeights(dense, jointCount, skin.influenceCount, skin.inverseBinds) };
}
