import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { readGlb } from "../formats/glb/readGlb";
import { rootExtras } from "../formats/glb/rootExtras";
import { writeGlb } from "../formats/glb/writeGlb";
import type { Character, SkinBinding } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import type { Tick } from "../measure/sweepMotion";

/** What reading a written file back proved. */
export interface ReadBack {
  readonly joints: boolean;
  readonly weights: boolean;
  readonly shapes: boolean;
  readonly drivers: boolean;
  /** Largest distance of any vertex over all compared moments, mm. */
  readonly largestErrorMm: number;
  readonly momentCount: number;
  /** Differences found, as sentences; empty when all is the same. */
  readonly differences: readonly string[];
}

/** Moments a hand-off is compared in: rest, every mapped joint at both ends of its range, every shape at full. */
export function proofMoments(character: Character): Moment[] {
  const motions = character.skeleton
    ? jointMotions(character.skeleton, humanoidMap(character.skeleton, character.jointMap))
    : [];
  const poses = motions.flatMap((m) =>
    [m.min, m.max].filter((a) => a !== 0).map((a) => ({ ...REST_MOMENT, pose: motionPose(m, a) })),
  );
  return [
    REST_MOMENT,
    ...poses,
    ...character.shapes.map((s) => ({ ...REST_MOMENT, weights: { [s.name]: 1 }, drivers: false })),
  ];
}

/** Compares a character with what its written file reads back as. */
export async function compareReadBack(written: Character, again: Character, tick: Tick = () => {}): Promise<ReadBack> {
  const differences: string[] = [];
  const same = (ok: boolean, what: string): boolean => {
    if (!ok) differences.push(what);
    return ok;
  };
  const names = (list: readonly { name: string }[] | undefined): string =>
    JSON.stringify((list ?? []).map((x) => x.name));
  const parts = same(
    names(written.parts) === names(again.parts) &&
      written.parts.every((p, i) => p.positions.length === again.parts[i]!.positions.length),
    "Parts differ in name, order or vertex count.",
  );
  const joints = same(
    names(written.skeleton?.joints) === names(again.skeleton?.joints) &&
      (written.skeleton?.joints ?? []).every((j, i) => j.parent === again.skeleton!.joints[i]!.parent),
    "Joints differ in name, order or parent.",
  );
  const weights =
    parts &&
    same(
      written.parts.every((p, i) => sameWeights(p.skin, again.parts[i]!.skin)),
      "Weights differ.",
    );
  const shapes = same(
    JSON.stringify(written.shapes.map((s) => s.name).sort()) === JSON.stringify(again.shapes.map((s) => s.name).sort()),
    "Shapes differ in name.",
  );
  const changed = differingDrivers(written, again);
  const drivers = same(
    changed.length === 0,
    `Drivers differ: ${changed.slice(0, 4).join(", ")}${changed.length > 4 ? ` and ${changed.length - 4} more` : ""}.`,
  );
  let largest = 0;
  const moments = parts && joints ? proofMoments(written) : [];
  const rigs = moments.length ? [makeRig(written), makeRig(again)] : [];
  const outs = rigs.map((r) => deform(r, REST_MOMENT, { normals: false }));
  for (const [i, moment] of moments.entries()) {
    if (i % 8 === 0) await tick(i, moments.length);
    const [a, b] = rigs.map((r, k) => deform(r, moment, { normals: false, out: outs[k]! }));
    a!.positions.forEach((P, p) => {
      const Q = b!.positions[p]!;
      for (let k = 0; k < P.length; k++) {
        const d = Math.abs(P[k]! - Q[k]!);
        if (d > largest) largest = d;
      }
    });
  }
  await tick(moments.length, moments.length);
  return { joints, weights, shapes, drivers, largestErrorMm: 1000 * largest, momentCount: moments.length, differences };
}

/** A value as text that is the same whatever order its keys stand in: a database gives them back in one of its own. */
const canonical = (value: unknown): string =>
  JSON.stringify(value, (_key, v: unknown) =>
    typeof v === "object" && v !== null && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  );

/** Drivers, combinations and mixes of which one character holds others than the other, in words. */
function differingDrivers(a: Character, b: Character): string[] {
  const [x, y] = [rootExtras(a), rootExtras(b)];
  const lists: [string, readonly unknown[], readonly unknown[], (item: never) => string][] = [
    ["the driver of ", x.drivers, y.drivers, (d: { shape: string }) => d.shape],
    ["what sets ", x.shapeDrivers, y.shapeDrivers, (d: { shape: string }) => d.shape],
    ["what drives ", x.poseDrivers, y.poseDrivers, (d: { shape: string }) => d.shape],
    ["the sampled poses ", x.sampleSets, y.sampleSets, (s: { name: string }) => s.name],
    ["the twist joint ", x.twistJoints, y.twistJoints, (t: { joint: string }) => t.joint],
    ["the mix ", x.mixes, y.mixes, (m: { name: string }) => m.name],
  ];
  return lists.flatMap(([what, own, theirs, nameOf]) => {
    const [left, right] = [own, theirs].map(
      (list) =>
        new Map(
          list.map((item, i) => [`${nameOf(item as never)} ${i}`, [nameOf(item as never), canonical(item)] as const]),
        ),
    );
    return [...new Set([...left!.keys(), ...right!.keys()])]
      .filter((key) => left!.get(key)?.[1] !== right!.get(key)?.[1])
      .map((key) => `${what}${(left!.get(key) ?? right!.get(key))![0]}`);
  });
}

/**
 * Same joints and weights in the same slots; files hold sets of four, so slots that one of them lacks must be empty in
 * the other.
 */
function sameWeights(a: SkinBinding | null, b: SkinBinding | null): boolean {
  if (!a || !b) return a === b;
  const count = a.weights.length / a.influenceCount;
  if (count !== b.weights.length / b.influenceCount) return false;
  const most = Math.max(a.influenceCount, b.influenceCount);
  const at = (s: SkinBinding, v: number, k: number): number =>
    k < s.influenceCount ? s.weights[v * s.influenceCount + k]! : 0;
  for (let v = 0; v < count; v++)
    for (let k = 0; k < most; k++) {
      const w = at(a, v, k);
      if (w !== at(b, v, k) || (w !== 0 && a.joints[v * a.influenceCount + k] !== b.joints[v * b.influenceCount + k]))
        return false;
    }
  return true;
}

/** Writes a character, reads it back and compares. */
export async function writeAndProve(
  character: Character,
  tick?: Tick,
): Promise<{ glb: Uint8Array; sidecar: string; readBack: ReadBack }> {
  const glb = await writeGlb(character);
  const again = await readGlb(glb, character.name);
  return {
    glb,
    sidecar: `${JSON.stringify(rootExtras(character), null, 2)}\n`,
    readBack: await compareReadBack(character, again, tick),
  };
}
