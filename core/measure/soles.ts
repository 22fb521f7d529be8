import { rotate, conjugate } from "../math/quat";
import { decomposeTRS, translationOf } from "../math/mat4";
import { sub, type Vec3 } from "../math/vec3";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { vertexCountOf, type Character } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { hangsUnder } from "../skeleton/hangsUnder";

/** A place under a foot that goes along with one joint. */
export interface SolePoint {
  readonly joint: number;
  /** From the joint, in its own frame, metres. */
  readonly at: Vec3;
}
export interface Soles {
  readonly left: readonly SolePoint[];
  readonly right: readonly SolePoint[];
}

/** Vertices this near to the lowest of a foot are its sole, metres. */
const THICK = 0.012;
/** Directions in which the outermost places of a sole are taken. */
const DIRECTIONS = 12;

const known = new WeakMap<Character["parts"], Soles | null>();

/**
 * The outline of both soles, from the skin and shoes that go along with the feet at rest; from foot and toe joints set
 * on the ground where no skin does. Null where the feet are not mapped.
 */
export function solesOf(character: Character): Soles | null {
  const found = known.get(character.parts);
  if (found !== undefined) return found;
  const made = makeSoles(character);
  known.set(character.parts, made);
  return made;
}

function makeSoles(character: Character): Soles | null {
  const { skeleton } = character;
  if (!skeleton) return null;
  const map = humanoidMap(skeleton, character.jointMap);
  const world = worldMatrices(skeleton, {});
  const of = (side: "left" | "right"): SolePoint[] | null => {
    const foot = map.jointOfBone.get(`${side}Foot`);
    if (foot === undefined) return null;
    const under = new Set(skeleton.joints.flatMap((_, j) => (hangsUnder(skeleton, j, foot) ? [j] : [])));
    under.add(foot);
    const places: { joint: number; at: Vec3 }[] = [];
    for (const part of character.parts) {
      const { skin, positions } = part;
      if (!skin) continue;
      for (let v = 0; v < vertexCountOf(part); v++) {
        let [joint, most] = [-1, 0];
        for (let k = v * skin.influenceCount; k < (v + 1) * skin.influenceCount; k++)
          if (skin.weights[k]! > most) [joint, most] = [skin.joints[k]!, skin.weights[k]!];
        if (under.has(joint))
          places.push({ joint, at: [positions[3 * v]!, positions[3 * v + 1]!, positions[3 * v + 2]!] });
      }
    }
    const low = places.length
      ? outline(places)
      : [...under].map((joint) => {
          const [x, , z] = translationOf(world, 16 * joint);
          return { joint, at: [x, 0, z] as Vec3 };
        });
    return low.map(({ joint, at }) => {
      const { t, q } = decomposeTRS(world, 16 * joint);
      return { joint, at: rotate(conjugate(q), sub(at, t)) };
    });
  };
  const [left, right] = [of("left"), of("right")];
  return left && right ? { left, right } : null;
}

/** Of the lowest places those that stand out furthest all round, once each. */
function outline<P extends { readonly at: Vec3 }>(places: readonly P[]): P[] {
  const floor = places.reduce((least, p) => Math.min(least, p.at[1]), Infinity);
  const low = places.filter((p) => p.at[1] < floor + THICK);
  const out = new Set<P>();
  for (let k = 0; k < DIRECTIONS; k++) {
    const [x, z] = [Math.cos((2 * Math.PI * k) / DIRECTIONS), Math.sin((2 * Math.PI * k) / DIRECTIONS)];
    out.add(low.reduce((a, b) => (b.at[0] * x + b.at[2] * z > a.at[0] * x + a.at[2] * z ? b : a)));
  }
  out.add(low.reduce((a, b) => (b.at[1] < a.at[1] ? b : a)));
  return [...out];
}
