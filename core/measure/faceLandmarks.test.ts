import { loadMember, loadOda } from "../../demo/cast";
import { eyeballsOf } from "./eyeballs";
import { makeOpeningGauge, lidColumns } from "./openings";
import { makeRig } from "../deform/rig";
import type { Character } from "../model/character";
import { FACE_CURVES, faceLandmarks, type FaceLandmark } from "./faceLandmarks";

const oda: Character = { ...(await loadOda()), clips: [] };
const found = faceLandmarks(oda);
const of = (list: readonly FaceLandmark[], id: string): readonly [number, number, number] =>
  list.find((l) => l.id === id)!.place;

describe("landmarks of a face", () => {
  it("are found on every curve, each on its triangle of the skin", () => {
    expect(new Set(found.map((l) => l.curve))).toEqual(new Set(FACE_CURVES));
    expect(new Set(found.map((l) => l.id)).size).toBe(found.length);
    const P = oda.parts.find((p) => p.kind === "body")!.positions;
    for (const { corners, shares, place } of found) {
      expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
      expect(Math.min(...shares)).toBeGreaterThan(-0.01);
      for (let c = 0; c < 3; c++)
        expect(corners.reduce((sum, v, k) => sum + shares[k]! * P[3 * v + c]!, 0)).toBeCloseTo(place[c]!, 4);
    }
  });
  it("stand on the edges of the lids, where the eyeball stops being seen", () => {
    const columns = lidColumns(
      makeOpeningGauge(makeRig(oda))!,
      oda.parts.map((p) => p.positions),
      "left",
      41,
    );
    for (const k of [3, 4, 5])
      for (const edge of ["upper", "lower"] as const) {
        const [x, y] = of(found, `left ${edge} lid ${k}`);
        const column = columns.reduce((a, b) => (Math.abs(b.x - x) < Math.abs(a.x - x) ? b : a));
        expect(Math.abs(y - (edge === "upper" ? column.high : column.low))).toBeLessThan(0.0008);
      }
  });
  it("are in the order of a face: eyes over nose over lips over chin, the nose's tip before all", () => {
    const heights = ["nose root", "nose ridge", "nose tip", "nose base", "upper lip 4", "chin fold", "chin point"].map(
      (id) => of(found, id)[1],
    );
    expect(heights).toEqual([...heights].sort((a, b) => b - a));
    expect(Math.max(...found.map((l) => l.place[2]))).toBe(of(found, "nose tip")[2]);
    for (const side of ["left", "right"] as const) {
      const eye = eyeballsOf(oda).find((e) => e.side === side)!;
      expect(Math.abs(of(found, `${side} ear rim`)[0])).toBeGreaterThan(Math.abs(eye.centre[0]) + 0.03);
      expect(of(found, `${side} ear top`)[1]).toBeGreaterThan(of(found, `${side} ear lobe`)[1]);
    }
  });
  it("mirror on a face that is alike on both sides", () => {
    for (const l of found.filter((f) => /ear/.test(f.curve) && f.curve.startsWith("left"))) {
      const other = of(found, l.id.replace("left", "right"));
      expect(Math.hypot(l.place[0] + other[0], l.place[1] - other[1], l.place[2] - other[2])).toBeLessThan(0.002);
    }
  });
  it("are found on a child's face too, and none on a figure without eyes", async () => {
    const wick = faceLandmarks({ ...(await loadMember("wick")), clips: [] });
    for (const curve of ["left upper lid", "right lower lid", "upper lip", "nose", "chin"] as const)
      expect(wick.some((l) => l.curve === curve)).toBe(true);
    expect(faceLandmarks({ ...oda, parts: oda.parts.filter((p) => p.kind !== "eye") })).toEqual([]);
  });
});
