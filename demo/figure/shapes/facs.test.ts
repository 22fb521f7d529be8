import { loadOda } from "../../cast";
import { deform, makeRig } from "../../../core/deform/rig";
import { REST_MOMENT } from "../../../core/evaluate/moment";
import { length, pointAt, sub, type Vec3 } from "../../../core/math/vec3";
import { makePerson } from "../../people/makePerson";
import { BASE, TARN } from "../../people/people";

/**
 * Action units by their published descriptions: Ekman & Friesen 1978, Facial Action Coding System, the "appearance
 * changes" of each unit (from memory). Each line says which landmark moves which way; x is outward from the face's
 * middle, y up, z forward; at least a millimetre.
 */
const oda = await loadOda();
const body = oda.parts.findIndex((p) => p.kind === "body");
const rig = makeRig(oda);
const rest = oda.parts[body]!.positions;

/** Landmarks on the figure's left side, in units of the head about the middle of the ear canals. */
const LANDMARKS = {
  innerBrow: [9.5, 16, 92],
  outerBrow: [46, 15, 68],
  noseWing: [16, -36, 88],
  cheek: [38, -26, 77],
  mouthCorner: [25, -66.5, 83],
  upperLip: [4, -60, 96],
  lowerLip: [4, -76, 93],
  chin: [2, -98, 90],
  cheekSide: [44, -56, 66],
  upperLid: [31, 5.2, 80.5],
} as const;
type Landmark = keyof typeof LANDMARKS;

const vertexAt = Object.fromEntries(
  Object.entries(LANDMARKS).map(([name, p]) => {
    const at = p.map((x, k) => BASE.headAt[k]! + x * BASE.unit);
    let best = 0;
    let nearest = Infinity;
    for (let v = 0; v < rest.length / 3; v++) {
      const d = Math.hypot(rest[3 * v]! - at[0]!, rest[3 * v + 1]! - at[1]!, rest[3 * v + 2]! - at[2]!);
      if (d < nearest) {
        nearest = d;
        best = v;
      }
    }
    return [name, best];
  }),
) as Record<Landmark, number>;

/** Movement in mm of a landmark's neighbourhood under a unit: the mean over 4 mm around it. */
function movement(unit: string, landmark: Landmark): { x: number; y: number; z: number } {
  const weights = Object.fromEntries(
    oda.shapes.filter((s) => s.name === unit || s.name === `${unit}_left`).map((s) => [s.name, 1]),
  );
  expect(Object.keys(weights).length).toBe(1);
  const P = deform(rig, { ...REST_MOMENT, weights }, { normals: false }).positions[body]!;
  const c = vertexAt[landmark];
  const sum = [0, 0, 0];
  let n = 0;
  for (let v = 0; v < rest.length / 3; v++) {
    if (
      Math.hypot(
        rest[3 * v]! - rest[3 * c]!,
        rest[3 * v + 1]! - rest[3 * c + 1]!,
        rest[3 * v + 2]! - rest[3 * c + 2]!,
      ) > 0.004
    )
      continue;
    for (let k = 0; k < 3; k++) sum[k]! += 1000 * (P[3 * v + k]! - rest[3 * v + k]!);
    n++;
  }
  return { x: sum[0]! / n, y: sum[1]! / n, z: sum[2]! / n };
}

const UNITS: readonly (readonly [
  unit: string,
  what: string,
  landmark: Landmark,
  axis: "x" | "y" | "z",
  sign: 1 | -1,
])[] = [
  ["AU1", "pulls the inner brow up", "innerBrow", "y", 1],
  ["AU2", "pulls the outer brow up", "outerBrow", "y", 1],
  ["AU4", "lowers the inner brow", "innerBrow", "y", -1],
  ["AU4", "draws the brows together", "innerBrow", "x", -1],
  ["AU5", "raises the upper lid", "upperLid", "y", 1],
  ["AU43", "lets the upper lid down", "upperLid", "y", -1],
  ["AU6", "raises the cheek", "cheek", "y", 1],
  ["AU9", "pulls the nose wing up", "noseWing", "y", 1],
  ["AU10", "raises the upper lip", "upperLip", "y", 1],
  ["AU12", "pulls the mouth corner up", "mouthCorner", "y", 1],
  ["AU12", "pulls the mouth corner out", "mouthCorner", "x", 1],
  ["AU15", "pulls the mouth corner down", "mouthCorner", "y", -1],
  ["AU16", "pulls the lower lip down", "lowerLip", "y", -1],
  ["AU17", "pushes the chin up", "chin", "y", 1],
  ["AU18", "pushes the lips forward", "upperLip", "z", 1],
  ["AU18", "draws the mouth corners in", "mouthCorner", "x", -1],
  ["AU20", "stretches the mouth corner outward", "mouthCorner", "x", 1],
  ["AU22", "funnels the lips forward", "lowerLip", "z", 1],
  ["AU25", "parts the lips", "lowerLip", "y", -1],
  ["AU26", "drops the chin", "chin", "y", -1],
  ["AU27", "stretches the mouth open", "chin", "y", -1],
  ["AU29", "thrusts the jaw forward", "chin", "z", 1],
  ["AU30_left", "moves the jaw to the left", "chin", "x", 1],
  ["AU33", "blows the cheek out", "cheekSide", "x", 1],
  ["AU35", "sucks the cheek in", "cheekSide", "x", -1],
];

describe("action units (FACS)", () => {
  it.each(UNITS)("%s %s", (unit, _what, landmark, axis, sign) =>
    expect(sign * movement(unit, landmark)[axis]).toBeGreaterThan(unit === "AU5" ? 0.5 : 1),
  );
  it("AU27 opens wider than AU26, AU43 travels farther than AU5", () => {
    expect(movement("AU27", "chin").y).toBeLessThan(1.5 * movement("AU26", "chin").y);
    expect(-movement("AU43", "upperLid").y).toBeGreaterThan(movement("AU5", "upperLid").y);
  });
  it("one-sided units leave the other side alone", () => {
    for (const name of ["AU12_left", "AU2_left", "AU43_left"]) {
      const delta = oda.shapes.find((s) => s.name === name)!.deltas.find((d) => d.part === body)!;
      const across = [...delta.vertices].flatMap((v, k) =>
        rest[3 * v]! < -0.012 ? [Math.hypot(...delta.deltas.subarray(3 * k, 3 * k + 3))] : [],
      );
      expect([name, delta.vertices.length > 50, Math.max(0, ...across) < 1e-4]).toEqual([name, true, true]);
    }
  });
  // maximal interincisal opening of adults 35 to 60 mm, edge to edge (from memory)
  it.each([
    ["Oda", oda],
    ["Tarn", makePerson(oda, TARN)],
  ])("AU27 opens the incisors of %s by 35 to 60 mm", (_name, person) => {
    const P = deform(makeRig(person), { ...REST_MOMENT, weights: { AU27: 1 } }, { normals: false }).positions;
    const edge = (part: string, up: 1 | -1): Vec3 => {
      const Q = P[person.parts.findIndex((p) => p.name === part)]!;
      const central = Array.from({ length: Q.length / 3 }, (_, v) => pointAt(Q, v)).filter(
        (p) => Math.abs(p[0]) < 0.006,
      );
      return central.reduce((best, p) => (up * p[1] > up * best[1] ? p : best));
    };
    const gap = 1000 * length(sub(edge("teeth upper", -1), edge("teeth lower", 1)));
    expect(gap).toBeGreaterThan(35);
    expect(gap).toBeLessThan(60);
  });
});
