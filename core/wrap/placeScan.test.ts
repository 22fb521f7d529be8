import { scanOf } from "../../demo/scans/scanOf";
import { loadOda } from "../../demo/cast";
import type { Character } from "../model/character";
import { skinSight } from "../measure/faceLandmarks";
import { backTo, guessPlace, placeByPairs, placedPositions } from "./placeScan";

const oda: Character = { ...(await loadOda()), clips: [] };
const sight = skinSight(oda)!;
type Point = readonly [number, number, number];
/** Her own head a little broader and longer in the face, so that it is another's. */
const other = ([x, y, z]: Point): Point => [x * 1.03, y + 0.002 * Math.sin(40 * z), z];
const head = ([, y]: Point): boolean => y > 1.44;
const turned = (degrees: number, p: Point): Point => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [c * p[0] + s * p[2], p[1], c * p[2] - s * p[0]];
};
const truth = scanOf(oda, head, other);

describe("where a scan stands", () => {
  it.each<[string, (p: Point) => Point, number]>([
    ["in centimetres, Z up, somewhere else", ([x, y, z]) => [100 * x + 20, -100 * z + 3, 100 * y - 90], 3],
    [
      "in millimetres, facing away by 15 degrees, at the origin",
      (p) => turned(15, [p[0], p[1] - 1.5, p[2]]).map((x) => 1000 * x) as unknown as Point,
      6,
    ],
    ["in a unit of its own", ([x, y, z]) => [7.3 * x, 7.3 * y - 4, 7.3 * z], 4],
  ])("is found %s", async (_what, to, withinMm) => {
    const scan = scanOf(oda, head, (p) => to(other(p)));
    const placed = (await guessPlace(sight, scan, true))!;
    expect(placed.medianMm).toBeLessThan(2);
    const back = placedPositions(scan, placed.place);
    const off = Array.from(
      { length: back.length / 3 },
      (_, v) => 1000 * Math.hypot(...[0, 1, 2].map((c) => back[3 * v + c]! - truth.positions[3 * v + c]!)),
    ).sort((a, b) => a - b);
    expect(off[off.length >> 1]!).toBeLessThan(withinMm);
  });
  it("keeps the size that its unit gives it when it is not to be fitted", async () => {
    const scan = scanOf(oda, head, (p) => other(p).map((x) => 106 * x) as unknown as Point);
    expect((await guessPlace(sight, scan, false))!.place.scale).toBeCloseTo(0.01, 9);
    expect((await guessPlace(sight, scan, true))!.place.scale).toBeCloseTo(1 / 106, 3);
  });
  it("is not found for what is no head", async () => {
    const ball = Float32Array.from({ length: 3 * 400 }, (_, i) => Math.sin(1 + i) * (i % 3 === 1 ? 0.02 : 1.2));
    expect(
      await guessPlace(
        sight,
        {
          positions: ball,
          corners: Uint32Array.from({ length: 399 }, (_, i) => i),
          faceStarts: Uint32Array.from({ length: 134 }, (_, i) => 3 * i),
        },
        false,
      ),
    ).toBeNull();
  });
  it("comes from three places set by hand, exactly, and never mirrored", () => {
    const own: Point[] = [
      [0.03, 1.57, 0.1],
      [-0.03, 1.57, 0.1],
      [0, 1.53, 0.13],
    ];
    const scan = own.map(([x, y, z]): Point => [200 * z + 5, 200 * x, 200 * y - 7]);
    const place = placeByPairs(
      own.map((p, i) => ({ own: p, scan: scan[i]! })),
      undefined,
    );
    expect(place.scale).toBeCloseTo(1 / 200, 9);
    own.forEach((p, i) => backTo(place, p).forEach((x, c) => expect(x).toBeCloseTo(scan[i]![c]!, 5)));
    const mirrored = placeByPairs(
      own.map((p, i) => ({ own: [-p[0], p[1], p[2]] as const, scan: scan[i]! })),
      undefined,
    );
    const R = mirrored.rotation;
    expect(
      R[0]! * (R[4]! * R[8]! - R[7]! * R[5]!) -
        R[3]! * (R[1]! * R[8]! - R[7]! * R[2]!) +
        R[6]! * (R[1]! * R[5]! - R[4]! * R[2]!),
    ).toBeCloseTo(1, 6);
  });
});
