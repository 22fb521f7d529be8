import { loadOda } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import type { Character } from "../model/character";
import { jointMotions, motionPose } from "../skeleton/jointMotions";
import { humanoidMap } from "../skeleton/humanoidMap";
import { joined } from "../shapes/targets/fitTarget";
import { fineRows, subdivideTimes, type SubdivisionRule } from "../surface/subdivide";
import { takeSculpt } from "./takeSculpt";

const oda = await loadOda();
const trousers = oda.parts.find((p) => p.name === "trousers")!;
const top = oda.parts.find((p) => p.name === "top")!;
const character: Character = { ...oda, parts: [trousers, top], shapes: [], drivers: [], shapeDrivers: [], clips: [] };
const rig = makeRig(character);
const knee = jointMotions(oda.skeleton!, humanoidMap(oda.skeleton!, oda.jointMap)).find(
  (m) => m.bone === "leftLowerLeg" && m.name === "bend",
)!;
const moment: Moment = { ...REST_MOMENT, pose: motionPose(knee, 90) };
const posed = deform(rig, moment, { normals: false }).positions.map((P) => P.slice());

/** What a sculptor does to the coarse mesh: a soft bump of 8 mm about a vertex of the trousers. */
const CENTRE = trousers.positions.length / 6;
const bumped = (P: Float32Array): Float32Array => {
  const out = P.slice();
  const c = 3 * Math.floor(CENTRE);
  for (let i = 0; i < P.length; i += 3) {
    const d = Math.hypot(P[i]! - P[c]!, P[i + 1]! - P[c + 1]!, P[i + 2]! - P[c + 2]!);
    if (d < 0.05) out[i + 2]! += 0.008 * (1 - (d / 0.05) ** 2) ** 2;
  }
  return out;
};
const sculpted = [bumped(posed[0]!), posed[1]!];

/** The sculpted parts subdivided, as OBJ. @param order new place of each vertex. */
function objOf(
  parts: readonly number[],
  levels: number,
  rule: SubdivisionRule,
  { order = (v: number): number => v, after = (_: Float64Array): void => {}, scale = 1 } = {},
): Uint8Array {
  const standing = { ...character, parts: character.parts.map((p, i) => ({ ...p, positions: sculpted[i]! })) };
  const base = joined(standing, parts);
  const net = subdivideTimes({ ...base, vertexCount: base.positions.length / 3 }, levels, rule);
  const rows = fineRows(net.stencils, base.positions, new Float64Array(3 * net.vertexCount));
  after(rows);
  const lines: string[] = Array<string>(net.vertexCount);
  for (let v = 0; v < net.vertexCount; v++)
    lines[order(v)] = `v ${[0, 1, 2].map((c) => (scale * rows[3 * v + c]!).toFixed(7)).join(" ")}`;
  for (let k = 0; k < net.corners.length; k += 4)
    lines.push(`f ${[0, 1, 2, 3].map((c) => order(net.corners[k + c]!) + 1).join(" ")}`);
  return new TextEncoder().encode(`${lines.join("\n")}\n`);
}
/** Largest distance from the sculpt after it was returned to rest and posed again, mm; on both parts. */
function missed(bytes: Uint8Array): { mm: number; notes: string; parts: readonly number[] } {
  const taken = takeSculpt(rig, moment, bytes, "renamed by hand.obj");
  const again = makeRig({ ...character, shapes: [{ name: "back", label: "back", deltas: taken.deltas }] });
  const now = deform(again, { ...moment, weights: { back: 1 } }, { normals: false }).positions;
  let mm = 0;
  now.forEach((P, p) => P.forEach((x, i) => (mm = Math.max(mm, 1000 * Math.abs(x - sculpted[p]![i]!)))));
  return { mm, notes: taken.notes.join(" "), parts: taken.deltas.map((d) => d.part) };
}

describe("a sculpt of a subdivided posed mesh", () => {
  it.each([
    ["one part, once", [0], 1, "smooth"],
    ["all parts, once", [0, 1], 1, "smooth"],
    ["one part, twice", [0], 2, "smooth"],
    ["one part, once, edges halved only", [0], 1, "flat"],
  ] as const)("comes back on the mesh itself: %s", (_, parts, levels, rule) => {
    const { mm, notes, parts: moved } = missed(objOf(parts, levels, rule));
    expect(mm).toBeLessThan(0.03);
    expect(notes).toMatch(levels === 2 ? /subdivided twice/ : /subdivided once/);
    expect(moved).toEqual([0]);
  });
  it("comes back from another vertex order and unit", () => {
    // vertices of faces before those of edges
    const [own, faces] = [trousers.positions.length / 3, trousers.faceStarts.length - 1];
    const all = subdivideTimes({ ...trousers, vertexCount: own }, 1).vertexCount;
    const order = (v: number): number => {
      if (v < own) return v;
      return v >= all - faces ? v - (all - faces - own) : v + faces;
    };
    const { mm, notes } = missed(objOf([0], 1, "smooth", { scale: 100, order }));
    expect(mm).toBeLessThan(0.03);
    expect(notes).toMatch(/another order.*in centimetres/);
  });
  it("says how much of it was finer than the mesh can hold", () => {
    const spike = objOf([0], 1, "smooth", {
      after: (rows) => void (rows[3 * (trousers.positions.length / 3 + 40) + 1]! += 0.004),
    });
    const { notes } = missed(spike);
    const finer = Number(/up to ([\d.]+) mm of it is finer/.exec(notes)![1]);
    expect(finer).toBeGreaterThan(1);
    expect(finer).toBeLessThan(4);
  });
});
