import { makeRig } from "../deform/rig";
import { makeLipGauge, mouthMiddle } from "../measure/lipCross";
import { add, length, pointAt, scale, sub, type Vec3 } from "../math/vec3";
import { vertexCountOf, type Character, type Part } from "../model/character";
import { neighboursOf } from "../model/neighbours";
import { eyesOf } from "../measure/eyeMoves";
import { BEFORE, fromFront, skinSight } from "../measure/faceLandmarks";
import { denseWeights, packWeights } from "./denseWeights";

/**
 * From the middle between the eyes down to the line where the lips meet, in distances between the eyes (from memory of
 * adult faces).
 */
const MOUTH_DOWN = 1.1;
const MOUTH_FORWARD = 0.2;
/**
 * Skin this far over or under the line from hinge to mouth, as an angle at the hinge in degrees, stays with the head or
 * goes wholly with the jaw.
 */
const STILL = -1;
const WHOLE = 6;
/**
 * Skin within this of the lips' middle, in distances between the eyes, and within this angle of their line takes what
 * is on both sides of it: the inside of the mouth goes with its lip.
 */
const NEAR_LIPS = 0.55;
const BAG = 9;
/** How far over and under the guess the line of the lips is looked for, in distances between the eyes. */
const LOOK = 0.32;
/** Rounds in which the weights between are evened out along the edges. */
const ROUNDS = 40;

/**
 * Weights of the face's skin on a jaw, from 0 to 1 for every vertex of the body: the chin and the lower lip go with it,
 * all above the mouth, behind the hinge and down the neck stays, and between it is evened out along the surface, so
 * that lips that only touch come apart. Null without a body, or eyes to tell where the mouth is.
 * @param hinge where the jaw turns, metres.
 */
export function jawWeights(character: Character, hinge: Vec3): { part: number; shares: Float32Array } | null {
  const index = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  const [left, right] = eyesOf(character);
  if (index < 0 || !left || !right) return null;
  const part = character.parts[index]!;
  const apart = Math.abs(left.centre[0] - right.centre[0]);
  const between = scale(add(left.centre, right.centre), 0.5);
  const lips = makeLipGauge(makeRig(character));
  const mouth = lipLine(character, aboutMouth(character, lips, between, apart), apart);
  const lip = new Map<number, "lower" | "upper">();
  if (lips && lips.part === index)
    for (const v of lips.finder.candidates) lip.set(v, lips.finder.region.share[v] === 1 ? "lower" : "upper");
  const given = firstShares(part, lip, { hinge, mouth, apart });
  return { part: index, shares: evenedOut(part, given) };
}

/** Where the mouth is looked for: between the lips, else between the teeth, else down from the eyes. */
function aboutMouth(character: Character, lips: ReturnType<typeof makeLipGauge>, between: Vec3, apart: number): Vec3 {
  if (lips) return lips.finder.region.centre as Vec3;
  const teeth = character.parts.flatMap((p, i) => (p.kind === "teeth" ? [i] : []));
  if (teeth.length > 1) return mouthMiddle(character, teeth) as unknown as Vec3;
  return [between[0], between[1] - MOUTH_DOWN * apart, between[2] + MOUTH_FORWARD * apart];
}

/** Shares of the jaw before they are evened out; what is fixed keeps its own. */
interface Given {
  readonly shares: Float32Array;
  readonly fixed: Uint8Array;
}

/** @param apart distance between the eyes, metres. */
function firstShares(
  part: Part,
  lip: ReadonlyMap<number, "lower" | "upper">,
  { hinge, mouth, apart }: { readonly hinge: Vec3; readonly mouth: Vec3; readonly apart: number },
): Given {
  const [forward, down] = [mouth[2] - hinge[2], hinge[1] - mouth[1]];
  const toMouth = Math.atan2(down, forward);
  const reach = 1.75 * Math.hypot(forward, down);
  const chin = chinBelow(mouth, apart);
  const count = vertexCountOf(part);
  const shares = new Float32Array(count);
  const fixed = new Uint8Array(count);
  for (let v = 0; v < count; v++) {
    const p = pointAt(part.positions, v);
    const d = sub(p, hinge);
    const angle = ((Math.atan2(-d[1], d[2]) - toMouth) * 180) / Math.PI;
    const outside = (): boolean =>
      d[2] < 0.12 * apart ||
      Math.hypot(d[1], d[2]) > reach ||
      Math.abs(d[0]) > 1.3 * apart ||
      angle < STILL ||
      p[1] < chin - 0.35 * apart;
    const upper = lip.get(v) === "upper";
    if (lip.get(v) === "lower") [shares[v], fixed[v]] = [1, 1];
    else if (!upper && length(sub(p, mouth)) < NEAR_LIPS * apart && Math.abs(angle) < BAG)
      shares[v] = angle > 0 ? 1 : 0;
    else if (upper || outside()) fixed[v] = 1;
    else if (angle > WHOLE && d[2] > 0.55 * apart && p[1] > chin) [shares[v], fixed[v]] = [1, 1];
    else shares[v] = Math.min(1, Math.max(0, (angle - STILL) / (WHOLE - STILL)));
  }
  return { shares, fixed };
}

/** What is not fixed takes the mean of its neighbours, round after round. */
function evenedOut(part: Part, { shares, fixed }: Given): Float32Array {
  const { start, list } = neighboursOf(part);
  let now = shares;
  for (let round = 0; round < ROUNDS; round++) {
    const next = now.slice();
    for (let v = 0; v < fixed.length; v++) {
      if (fixed[v] || start[v] === start[v + 1]) continue;
      let sum = 0;
      for (let k = start[v]!; k < start[v + 1]!; k++) sum += now[list[k]!]!;
      next[v] = sum / (start[v + 1]! - start[v]!);
    }
    now = next;
  }
  return now;
}

/**
 * Where the lips meet on the midline, as the front shows it: the deepest place between the two that stand out most near
 * a guess, and how far the lips stand out.
 */
function lipLine(character: Character, guess: Vec3, apart: number): Vec3 {
  const sight = skinSight(character);
  if (!sight) return guess;
  const profile: { y: number; z: number }[] = [];
  for (let y = guess[1] - LOOK * apart; y <= guess[1] + LOOK * apart; y += apart / 160) {
    const seen = fromFront(sight, guess[0] + 1e-4, y);
    if (seen) profile.push({ y, z: sight.frame.centre[2] + BEFORE - seen.distance });
  }
  let best = { depth: 0, y: guess[1], z: guess[2] };
  profile.forEach((p, i) => {
    const above = Math.max(-Infinity, ...profile.slice(i + 1, i + 20).map((q) => q.z));
    const below = Math.max(-Infinity, ...profile.slice(Math.max(0, i - 19), i).map((q) => q.z));
    const depth = Math.min(above, below) - p.z;
    if (depth > best.depth) best = { depth, y: p.y, z: Math.min(above, below) };
  });
  return [guess[0], best.y, Math.max(best.z, guess[2])];
}

/** Height of the chin's underside. */
const chinBelow = (mouth: Vec3, apart: number): number => mouth[1] - 0.75 * apart;

/** The character with the face's skin given to a jaw, out of what each vertex holds on the head or what hangs on it. */
export function bindChin(character: Character, jaw: number, head: number, hinge: Vec3): Character {
  const found = jawWeights(character, hinge);
  if (!found || !character.skeleton) return character;
  const part = character.parts[found.part]!;
  const { joints } = character.skeleton;
  const ofHead = new Uint8Array(joints.length);
  joints.forEach((x, j) => (ofHead[j] = j === head || (x.parent >= 0 && ofHead[x.parent]) ? 1 : 0));
  const dense = denseWeights(part, joints.length);
  for (let v = 0; v < vertexCountOf(part); v++) {
    if (found.shares[v]! <= 0) continue;
    for (let j = 0; j < joints.length; j++) {
      if (!ofHead[j] || j === jaw) continue;
      const given = dense[v * joints.length + j]! * found.shares[v]!;
      dense[v * joints.length + j]! -= given;
      dense[v * joints.length + jaw]! += given;
    }
  }
  const skin = packWeights(dense, joints.length, Math.max(part.skin!.influenceCount, 4), part.skin!.inverseBinds);
  return { ...character, parts: character.parts.map((p, i) => (i === found.part ? { ...p, skin } : p)) };
}
