import { loadOda } from "../../demo/cast";
import { eyeFrame, shapePlace } from "../measure/shapeRegion";
import { humanoidMap } from "../skeleton/humanoidMap";
import { FACE_AREAS, faceMask } from "./faceMask";

const oda = await loadOda();
const eyes = eyeFrame(oda, humanoidMap(oda.skeleton!))!;
const body = oda.parts.findIndex((p) => p.kind === "body");
const P = oda.parts[body]!.positions;
const masks = new Map(FACE_AREAS.map((a) => [a, faceMask(a, P, eyes)]));

describe("where a brush may act on a face", () => {
  it("is everywhere without an area or without eyes", () => {
    expect(masks.get("anywhere")!.every((x) => x === 1)).toBe(true);
    expect(faceMask("mouth", P, null).every((x) => x === 1)).toBe(true);
  });
  it.each([
    ["AU1_left", "brows"],
    ["AU43_left", "eyes"],
    ["AU12_left", "mouth"],
    ["AU18", "mouth"],
  ] as const)("holds most of what %s moves in its own area", (name, area) => {
    const shape = oda.shapes.find((s) => s.name === name)!;
    expect(shapePlace(oda, shape, eyes).region).toBe(
      ({ eyes: "lids", mouth: "lips" } as Record<string, string>)[area] ?? area,
    );
    const d = shape.deltas.find((x) => x.part === body)!;
    const within = (a: (typeof FACE_AREAS)[number]): number =>
      d.vertices.reduce(
        (s, v, k) =>
          s + masks.get(a)![v]! * Math.hypot(d.deltas[3 * k]!, d.deltas[3 * k + 1]!, d.deltas[3 * k + 2]!) ** 2,
        0,
      );
    for (const other of FACE_AREAS.slice(1)) expect(within(area)).toBeGreaterThanOrEqual(within(other));
  });
  it("has areas that meet softly: at a border two of them share a vertex, and never more than all of it", () => {
    let shared = 0;
    for (let v = 0; v < P.length / 3; v++) {
      const values = FACE_AREAS.slice(1).map((a) => masks.get(a)![v]!);
      expect(values.reduce((a, b) => a + b, 0)).toBeLessThan(1.001);
      if (values.filter((x) => x > 0.05).length === 2) shared++;
    }
    expect(shared).toBeGreaterThan(50);
  });
  it("is what was painted, and nowhere where nothing was", () => {
    const painted = Float32Array.from({ length: P.length / 3 }, (_, v) => (v % 7) / 6);
    expect(faceMask("painted", P, eyes, painted)).toBe(painted);
    expect(faceMask("painted", P, eyes).every((x) => x === 0)).toBe(true);
  });
  it("leaves the rest of the body alone", () => {
    for (let v = 0; v < P.length / 3; v++)
      if (P[3 * v + 1]! < 1.2) for (const a of FACE_AREAS.slice(1)) expect(masks.get(a)![v]!).toBe(0);
  });
});
