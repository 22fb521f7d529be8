import { loadOda } from "../../demo/cast";
import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import { buildBvh, closestPoint, windingNumber } from "../math/bvh";
import type { Character } from "../model/character";
import { dabSketch, deformSketch, startSketch, type StrokeRecord } from "./sketch";
import { makeTeethContact, slideOnTeeth } from "./slideOnTeeth";

const full = await loadOda();
const oda: Character = {
  ...full,
  clips: [],
  drivers: [],
  shapeDrivers: [],
  shapes: full.shapes.filter((s) => s.name === "AU26"),
};
const body = oda.parts.findIndex((p) => p.kind === "body");
const [upper, lower] = ["teeth upper", "teeth lower"].map((n) => oda.parts.findIndex((p) => p.name === n)) as [
  number,
  number,
];
const rig = makeRig(oda);
const jawDown: Moment = { ...REST_MOMENT, weights: { AU26: 1 } };

/**
 * Presses the lip before a row of teeth back in strokes of a millimetre, as a hand would. @returns how deep skin lies
 * in the teeth, mm, and how far the lip went back.
 */
function press(moment: Moment, row: number, slide: boolean): { inside: number; deepest: number; back: number } {
  const sketch = startSketch(rig, body);
  const teeth = makeTeethContact(rig)!;
  const T = deform(rig, moment).positions[row]!;
  let front = 0;
  for (let v = 0; v < T.length / 3; v++) if (T[3 * v + 2]! > T[3 * front + 2]!) front = v;
  const touched = new Set<number>();
  for (let k = 0; k < 8; k++) {
    const record: StrokeRecord = new Map();
    const shown = deformSketch(sketch, moment);
    dabSketch(
      sketch,
      moment,
      shown,
      {
        tool: "move",
        centre: [T[3 * front]!, T[3 * front + 1]!, T[3 * front + 2]! + 0.005 - 0.001 * k],
        radius: 0.009,
        strength: 1,
        fallOff: "even",
        drag: [0, 0, -0.001],
      },
      new Float32Array(shown.positions[body]!.length / 3).fill(1),
      false,
      record,
    );
    if (slide) slideOnTeeth(sketch, moment, shown, teeth, record);
    for (const v of record.keys()) touched.add(v);
  }
  // nothing outside the strokes moves
  expect(sketch.deltas.findIndex((x, i) => x !== 0 && !touched.has(Math.floor(i / 3)))).toBe(-1);
  const after = deformSketch(sketch, moment).positions[body]!;
  const solid = buildBvh(rig.triangles[row]!, T);
  const start = deform(rig, moment).positions[body]!;
  const isIn = (P: Float32Array, v: number): boolean =>
    windingNumber(solid, T, P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!) > 0.5;
  const within = [...touched].filter((v) => isIn(after, v) && !isIn(start, v));
  const depth = (v: number): number =>
    1000 * closestPoint(solid, T, after[3 * v]!, after[3 * v + 1]!, after[3 * v + 2]!).distance;
  return {
    inside: within.length,
    deepest: Math.max(0, ...within.map(depth)),
    back: [...touched].reduce((sum, v) => sum + Math.hypot(...sketch.deltas.subarray(3 * v, 3 * v + 3)), 0),
  };
}

describe("lips that slide on the teeth", () => {
  it.each([
    ["at rest, on the upper row", REST_MOMENT, upper],
    ["with the jaw down, on the lower row where it stands then", jawDown, lower],
  ] as const)("%s", (_where, moment, row) => {
    const [free, slid] = [press(moment, row, false), press(moment, row, true)];
    expect(free.inside).toBeGreaterThan(5);
    expect(free.deepest).toBeGreaterThan(0.5);
    expect(slid.inside).toBe(0);
    // the stroke still does what it can
    expect(slid.back).toBeGreaterThan(0.3 * free.back);
  });
  it("leaves strokes alone that come near no tooth, and characters without teeth", () => {
    const sketch = startSketch(rig, body);
    const record: StrokeRecord = new Map();
    const shown = deform(rig, REST_MOMENT);
    const P = oda.parts[body]!.positions;
    let top = 0;
    for (let v = 0; v < P.length / 3; v++) if (P[3 * v + 1]! > P[3 * top + 1]!) top = v;
    dabSketch(
      sketch,
      REST_MOMENT,
      shown,
      {
        tool: "move",
        centre: [P[3 * top]!, P[3 * top + 1]!, P[3 * top + 2]!],
        radius: 0.03,
        strength: 1,
        fallOff: "even",
        drag: [0, -0.004, 0],
      },
      new Float32Array(P.length / 3).fill(1),
      false,
      record,
    );
    const before = sketch.deltas.slice();
    slideOnTeeth(sketch, REST_MOMENT, shown, makeTeethContact(rig)!, record);
    expect([...sketch.deltas]).toEqual([...before]);
    expect(
      makeTeethContact(makeRig({ ...oda, parts: oda.parts.filter((p) => p.kind !== "teeth"), shapes: [] })),
    ).toBeNull();
  });
});
