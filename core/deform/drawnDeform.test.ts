import { loadOda } from "../../demo/cast";
import { DrawnDeform } from "./drawnDeform";
import { kernelWith } from "./kernelModule";
import { blendShapes, makeRig, withShapes } from "./rig";

const oda = await loadOda();
const rig = makeRig(oda);
const body = oda.parts.findIndex((p) => p.kind === "body");

/** Largest distance between the part as it is drawn in the rest pose and its shapes added up in double precision. */
function apart(drawing: DrawnDeform, of: typeof rig, weights: Float32Array): number {
  drawing.blend(of, body, weights);
  drawing.skin(body, null, "linear");
  const wanted = new Float32Array(oda.parts[body]!.positions.length);
  blendShapes(of, body, weights, wanted);
  const drawn = drawing.deformed.positions[body]!;
  return wanted.reduce((most, x, i) => Math.max(most, Math.abs(x - drawn[i]!)), 0);
}
const all = (weight: number): Float32Array => new Float32Array(oda.shapes.length).fill(weight);

describe("deforming for what is drawn", () => {
  it("adds shapes up whether all have room in its memory or only a few at a time", () => {
    const wide = DrawnDeform.of(rig)!;
    const narrow = DrawnDeform.of(rig, 1)!;
    for (const weight of [0.1, 0, 0.05]) {
      expect(apart(wide, rig, all(weight))).toBeLessThan(2e-6);
      expect(apart(narrow, rig, all(weight))).toBeLessThan(2e-6);
    }
  });
  it("takes up a shape that is changed while it stands", () => {
    const drawing = DrawnDeform.of(rig)!;
    const before = all(0.1);
    expect(apart(drawing, rig, before)).toBeLessThan(2e-6);
    const doubled = oda.shapes.map((s) => ({
      ...s,
      deltas: s.deltas.map((d) => ({ ...d, deltas: d.deltas.map((x) => 2 * x) })),
    }));
    expect(apart(drawing, withShapes(rig, { ...oda, shapes: doubled }), before)).toBeLessThan(4e-6);
  });
  it("keeps a memory for each: making another leaves the first as it was", () => {
    const first = DrawnDeform.of(rig)!;
    first.blend(rig, body, all(0.1));
    first.skin(body, null, "linear");
    const kept = first.deformed.positions[body]!.slice();
    const second = DrawnDeform.of(rig)!;
    second.blend(rig, body, all(0));
    second.skin(body, null, "linear");
    expect(first.deformed.positions[body]).toEqual(kept);
    expect(second.deformed.positions[body]).not.toEqual(kept);
  });
});

describe("the kernel's memory", () => {
  it("is refused where there is no room, so that the plain way serves", () => {
    expect(kernelWith(2 ** 40)).toBeNull();
    expect(kernelWith(1)!.buffer.byteLength).toBe(65_536);
  });
});
