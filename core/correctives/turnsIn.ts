import { limbsOf } from "../measure/limbShares";
import { applySimilarity, fitSimilarity } from "../math/similarity";
import { humanoidMap } from "../skeleton/humanoidMap";
import type { Character, ShapeDelta } from "../model/character";

/** A vertex goes with a limb that holds so much of it. */
const WHOLLY = 0.95;
const FEWEST = 30;
/** So many joints are asked one after the other, each for what those before it left. */
const JOINTS = 3;
/** A limb that moved as one piece misses its own turn by less than this share of its movement. */
const STIFF = 0.1;
const RIGID = { rounds: 0, mirrored: false, scale: 1 } as const;

/**
 * How much of a movement of the body is that whole limbs were turned: limbs that moved as one stiff piece, by least
 * squares, of whatever angle. A sculpt moves flesh, and leaves most of a limb where it is.
 * @returns the joint that turned most, and the share of the movement's squared length that such turns explain; null
 * where there is none.
 */
export function turnsIn(character: Character, deltas: readonly ShapeDelta[]): { joint: string; share: number } | null {
  const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  const delta = deltas.find((d) => d.part === body);
  if (!delta || !character.skeleton) return null;
  const head = humanoidMap(character.skeleton, character.jointMap).jointOfBone.get("head");
  const P = character.parts[body]!.positions;
  const moves = new Float32Array(P.length);
  delta.vertices.forEach((v, k) => moves.set(delta.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
  const squared = (v: number): number => moves[3 * v]! ** 2 + moves[3 * v + 1]! ** 2 + moves[3 * v + 2]! ** 2;
  let total = 0;
  for (let v = 0; v < P.length / 3; v++) total += squared(v);
  if (total < 1e-12) return null;
  const limbs = limbsOf(character, head)
    .map(({ joint, share }) => ({ joint, vertices: [...share.keys()].filter((v) => share[v]! >= WHOLLY) }))
    .filter((l) => l.vertices.length >= FEWEST);
  const gone = new Uint8Array(P.length / 3);
  let [explained, first] = [0, null as string | null];
  for (let round = 0; round < JOINTS; round++) {
    let best: { joint: number; vertices: readonly number[]; gain: number } | null = null;
    for (const { joint, vertices } of limbs) {
      const left = vertices.filter((v) => !gone[v]);
      const moved = left.reduce((sum, v) => sum + squared(v), 0);
      if (left.length < FEWEST || moved < (best?.gain ?? 0.02 * total)) continue;
      const from = Float32Array.from(left.flatMap((v) => [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!]));
      const to = from.map((x, i) => x + moves[3 * left[Math.floor(i / 3)]! + (i % 3)]!);
      const fit = fitSimilarity(from, to, RIGID);
      let missed = 0;
      for (let i = 0; i < from.length; i += 3) {
        const q = applySimilarity(fit, from[i]!, from[i + 1]!, from[i + 2]!);
        missed += (q[0] - to[i]!) ** 2 + (q[1] - to[i + 1]!) ** 2 + (q[2] - to[i + 2]!) ** 2;
      }
      if (missed < STIFF * moved && moved - missed > (best?.gain ?? 0))
        best = { joint, vertices: left, gain: moved - missed };
    }
    if (!best) break;
    first ??= character.skeleton.joints[best.joint]!.name;
    explained += best.gain;
    for (const v of best.vertices) gone[v] = 1;
  }
  return first === null ? null : { joint: first, share: explained / total };
}
