import { clipRate, clipSeconds } from "../clips/motion";
import { playClip } from "../clips/playClip";
import { deform, makeRig } from "../deform/rig";
import { evaluate } from "../evaluate/evaluate";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { readGlb } from "../formats/glb/readGlb";
import { writeGlb } from "../formats/glb/writeGlb";
import type { Tick } from "../measure/sweepMotion";
import type { Character } from "../model/character";
import { withoutShapes } from "../shapes/withoutShapes";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose } from "../skeleton/jointMotions";

/** How two characters with the same joints stand in the same poses. */
export interface PosesProved {
  readonly moments: number;
  readonly clips: number;
  /** Farthest that any joint, and any vertex, stands from its place on the other, mm. */
  readonly jointMm: number;
  readonly vertexMm: number;
}

/** Moments of one clip that are compared at most; they are spread over all of it. */
const MOST_OF_A_CLIP = 60;

/** Both ends of every joint's range, and every clip. */
function momentsOf(character: Character): ((on: Character) => Moment)[] {
  const { skeleton, jointMap, clips } = character;
  const motions = skeleton ? jointMotions(skeleton, humanoidMap(skeleton, jointMap)) : [];
  const ends = motions.flatMap((m) => [m.min, m.max].map((a) => () => ({ ...REST_MOMENT, pose: motionPose(m, a) })));
  const played = clips.flatMap((clip) => {
    const frames = Math.floor(clipSeconds(clip) * clipRate(clip)) + 1;
    const every = Math.max(1, Math.ceil(frames / MOST_OF_A_CLIP));
    return Array.from({ length: Math.ceil(frames / every) }, (_, i) => {
      const seconds = Math.min(clipSeconds(clip), (i * every) / clipRate(clip));
      return (on: Character): Moment => {
        const { weights: _w, ...own } = on.clips.find((c) => c.name === clip.name) ?? { name: clip.name, tracks: [] };
        return { ...REST_MOMENT, sources: [playClip(on, own, seconds)] };
      };
    });
  });
  return [() => REST_MOMENT, ...ends, ...played];
}

/**
 * Compares a character whose shapes stand at `weights` with one without shapes, in every clip and at both ends of
 * every joint's range; correctives and the weights in clips are left out on both sides, as the other has none.
 */
export async function provePoses(
  character: Character,
  weights: Readonly<Record<string, number>>,
  plain: Character,
  tick: Tick = () => {},
): Promise<PosesProved> {
  // combinations of the shapes at work stay: the other holds what they do
  const still: Character = { ...character, drivers: [] };
  const asked = momentsOf(still);
  const rigs = [still, plain].map((c) => makeRig(c));
  const outs = rigs.map((r) => deform(r, REST_MOMENT, { normals: false }));
  let [jointMm, vertexMm] = [0, 0];
  const farthest = (a: ArrayLike<number>, b: ArrayLike<number>, k: number): number =>
    1000 * Math.hypot(a[k]! - b[k]!, a[k + 1]! - b[k + 1]!, a[k + 2]! - b[k + 2]!);
  for (const [i, at] of asked.entries()) {
    await tick(i, asked.length);
    const pair: Moment[] = [{ ...at(still), weights }, at(plain)];
    const [w, v] = [evaluate(still, pair[0]!).world, evaluate(plain, pair[1]!).world];
    if (w && v) for (let j = 0; j < w.length; j += 16) jointMm = Math.max(jointMm, farthest(w, v, j + 12));
    const [a, b] = rigs.map((r, k) => deform(r, pair[k]!, { normals: false, out: outs[k]! }));
    a!.positions.forEach((P, p) => {
      const Q = b!.positions[p]!;
      for (let k = 0; k < P.length; k += 3) vertexMm = Math.max(vertexMm, farthest(P, Q, k));
    });
  }
  return { moments: asked.length, clips: character.clips.length, jointMm, vertexMm };
}

/** A GLB without shapes, read back and compared with the character as it stands. */
export async function writeWithoutShapes(
  character: Character,
  weights: Readonly<Record<string, number>>,
  tick: Tick = () => {},
): Promise<{ readonly glb: Uint8Array; readonly proved: PosesProved }> {
  const glb = await writeGlb(withoutShapes(character, weights));
  return { glb, proved: await provePoses(character, weights, await readGlb(glb, character.name), tick) };
}
