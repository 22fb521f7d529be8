import { deform, makeRig } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { eyeballsOf } from "../measure/eyeballs";
import { loadOda } from "../../demo/cast";
import type { Character } from "../model/character";
import { dabSketch, deformSketch, startSketch, type StrokeRecord } from "./sketch";
import { slideOnEyes } from "./slideOnEyes";

const oda: Character = { ...(await loadOda()), clips: [], shapes: [], drivers: [], shapeDrivers: [] };
const body = oda.parts.findIndex((p) => p.kind === "body");
const eyes = eyeballsOf(oda);
const P = oda.parts[body]!.positions;
const lid = Array.from({ length: P.length / 3 }, (_, v) => v).filter((v) => {
  const d = [0, 1, 2].map((c) => P[3 * v + c]! - eyes[0]!.centre[c]!);
  const h = Math.hypot(...d) - eyes[0]!.radius;
  return d[2]! > 0.004 && d[1]! > 0.002 && h > 0.0002 && h < 0.004;
});
const deepest = (deltas: Float32Array): number =>
  lid.reduce(
    (m, v) =>
      Math.max(
        m,
        eyes[0]!.radius - Math.hypot(...[0, 1, 2].map((c) => P[3 * v + c]! + deltas[3 * v + c]! - eyes[0]!.centre[c]!)),
      ),
    -1,
  );

/** Drags the upper lid straight back into the eye. */
function push(slide: boolean): { deltas: Float32Array; record: StrokeRecord; before: Float32Array } {
  const sketch = startSketch(makeRig(oda), body);
  const record: StrokeRecord = new Map();
  const before = sketch.deltas.slice();
  const shown = deformSketch(sketch, REST_MOMENT);
  const at = [0, 1, 2].map((c) => lid.reduce((s, v) => s + P[3 * v + c]! / lid.length, 0)) as [number, number, number];
  dabSketch(
    sketch,
    REST_MOMENT,
    shown,
    { tool: "move", centre: at, radius: 0.02, strength: 1, fallOff: "even", drag: [0, -0.003, -0.005] },
    new Float32Array(P.length / 3).fill(1),
    false,
    record,
  );
  if (slide) slideOnEyes(sketch, eyes, record);
  return { deltas: sketch.deltas, record, before };
}

describe("skin that slides on the eyeballs", () => {
  it("is pushed into the eye without it, and stays out with it", () => {
    expect(lid.length).toBeGreaterThan(20);
    expect(deepest(push(false).deltas)).toBeGreaterThan(0.002);
    expect(deepest(push(true).deltas)).toBeLessThan(1e-6);
  });
  it("keeps what moves along the eye, and touches nothing outside the stroke", () => {
    const [free, slid] = [push(false), push(true)];
    expect(slid.deltas.findIndex((x, i) => x !== 0 && !slid.record.has(Math.floor(i / 3)))).toBe(-1);
    // the drag goes down: the lid still closes by most of it
    const down = (d: Float32Array): number => lid.reduce((s, v) => s + d[3 * v + 1]!, 0);
    expect(down(slid.deltas) / down(free.deltas)).toBeGreaterThan(0.5);
  });
  it("does nothing where no eye is near", () => {
    const sketch = startSketch(makeRig(oda), body);
    const record: StrokeRecord = new Map();
    const chin = [0, 1, 2].map((c) => P[3 * 10 + c]! * 1) as [number, number, number];
    dabSketch(
      sketch,
      REST_MOMENT,
      deform(makeRig(oda), REST_MOMENT),
      { tool: "inflate", centre: chin, radius: 0.02, strength: 1, fallOff: "even", drag: [0, 0, 0] },
      new Float32Array(P.length / 3).fill(1),
      false,
      record,
    );
    const before = sketch.deltas.slice();
    slideOnEyes(sketch, [{ ...eyes[0]!, centre: [5, 5, 5] }], record);
    expect([...sketch.deltas]).toEqual([...before]);
  });
});
