import { length, normalize, scale, sub, add, dot, type Vec3 } from "../math/vec3";
import { pointAt } from "../math/vec3";
import { vertexCountOf, type Character } from "../model/character";
import { humanoidMap, type HumanoidMap } from "../skeleton/humanoidMap";
import { hangsUnder } from "../skeleton/hangsUnder";
import { restStanding, standing, type Motion, type Standing } from "./motion";

/** The trunk and thighs as capsules round bones, arms too: radii as the skin has them at rest, metres. */
interface Capsule {
  readonly from: number;
  readonly to: number;
  readonly radius: number;
}

const TRUNK = [
  ["hips", "chest"],
  ["chest", "neck"],
  ["leftUpperLeg", "leftLowerLeg"],
  ["rightUpperLeg", "rightLowerLeg"],
] as const;

/** Mean distance of the skin that a joint holds from the line of its bone at rest. */
function radiusOf(character: Character, rest: Standing, from: number, to: number): number {
  const skeleton = character.skeleton!;
  const [a, b] = [rest.places[from]!, rest.places[to]!];
  const along = normalize(sub(b, a));
  let [sum, n] = [0, 0];
  const own = (j: number): boolean =>
    j === from || (hangsUnder(skeleton, j, from) && !hangsUnder(skeleton, j, to) && j !== to);
  for (const part of character.parts) {
    if (part.kind !== "body" || !part.skin) continue;
    const { influenceCount, joints, weights } = part.skin;
    for (let v = 0; v < vertexCountOf(part); v++) {
      let [joint, most] = [-1, 0];
      for (let k = v * influenceCount; k < (v + 1) * influenceCount; k++)
        if (weights[k]! > most) [joint, most] = [joints[k]!, weights[k]!];
      if (joint < 0 || !own(joint)) continue;
      const d = sub(pointAt(part.positions, v), a);
      const t = dot(d, along);
      if (t < 0 || t > length(sub(b, a))) continue;
      sum += length(sub(d, scale(along, t)));
      n++;
    }
  }
  return n ? sum / n : 0.05;
}

function capsules(character: Character, map: HumanoidMap, pairs: readonly (readonly [string, string])[]): Capsule[] {
  const rest = restStanding(character.skeleton!);
  return pairs.flatMap(([a, b]) => {
    const [from, to] = [map.jointOfBone.get(a), map.jointOfBone.get(b)];
    return from === undefined || to === undefined ? [] : [{ from, to, radius: radiusOf(character, rest, from, to) }];
  });
}

/** Least distance of a place from a line between two, and how far along it lies. */
function away(p: Vec3, a: Vec3, b: Vec3): number {
  const d = sub(b, a);
  const t = Math.min(1, Math.max(0, dot(sub(p, a), d) / Math.max(1e-12, dot(d, d))));
  return length(sub(p, add(a, scale(d, t))));
}

/**
 * How near elbows, forearms and wrists come to trunk and thighs over a movement, mm, skin to skin by the mean thickness
 * of each at rest; negative: within. A quick reading for fitting by hand, every third frame. Null where arms are not
 * mapped.
 */
export function readArms(character: Character, motion: Motion): number | null {
  if (!character.skeleton) return null;
  const map = humanoidMap(character.skeleton, character.jointMap);
  const body = capsules(character, map, TRUNK);
  const arms = capsules(character, map, [
    ["leftLowerArm", "leftHand"],
    ["rightLowerArm", "rightHand"],
  ]);
  if (!body.length || !arms.length) return null;
  const room: Standing = { turns: [], places: [] };
  let least = Infinity;
  for (let f = 0; f < motion.frames; f += 3) {
    standing(motion, f, room);
    for (const arm of arms)
      for (const part of body)
        for (const t of [0, 0.5, 1]) {
          const [a, b] = [room.places[arm.from]!, room.places[arm.to]!];
          const p = add(a, scale(sub(b, a), t));
          least = Math.min(least, away(p, room.places[part.from]!, room.places[part.to]!) - arm.radius - part.radius);
        }
  }
  return 1000 * least;
}
