import { BufferAttribute, BufferGeometry, Matrix4, Quaternion, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { cleanTarn, loadOda } from "../../demo/cast";
import { scanOf } from "../../demo/scans/scanOf";
import { applySimilarity, type Similarity } from "../../core/math/similarity";
import { fromAxisAngle, rotate } from "../../core/math/quat";
import { normalize, type Vec3 } from "../../core/math/vec3";
import { triangulate, type Character } from "../../core/model/character";
import { movedBy } from "../../core/model/movedBy";
import { faceLandmarks } from "../../core/measure/faceLandmarks";
import { layOnScan } from "../../core/wrap/layOnScan";
import { placeByPairs, scanPart } from "../../core/wrap/placeScan";
import { after, stepOnto, type PlanePair } from "../../core/wrap/stepOnto";
import { seatEyeball } from "../../core/wrap/seatEyeball";

/** A similarity as three.js has it. */
const matrixOf = ({ scale, rotation: R, offset }: Similarity): Matrix4 =>
  new Matrix4().set(
    scale * R[0]!,
    scale * R[3]!,
    scale * R[6]!,
    offset[0],
    scale * R[1]!,
    scale * R[4]!,
    scale * R[7]!,
    offset[1],
    scale * R[2]!,
    scale * R[5]!,
    scale * R[8]!,
    offset[2],
    0,
    0,
    0,
    1,
  );
const random = (
  (seed: number) => () =>
    (seed = (seed * 16807) % 2147483647) / 2147483647
)(11);
const vec = (size: number): Vec3 => [size * (random() - 0.5), size * (random() - 0.5), size * (random() - 0.5)];

describe("standing a scan, against three.js", () => {
  it("by places set by hand gives the matrix that moved them", () => {
    for (let n = 0; n < 20; n++) {
      const there = new Matrix4().compose(
        new Vector3(...vec(3)),
        new Quaternion(...vec(2), random()).normalize(),
        new Vector3(1, 1, 1).multiplyScalar(0.001 + 50 * random()),
      );
      const own = Array.from({ length: 3 + (n % 4) }, () => vec(0.2));
      const pairs = own.map((p) => ({
        own: p,
        scan: new Vector3(...p).applyMatrix4(there).toArray() as unknown as Vec3,
      }));
      const found = matrixOf(placeByPairs(pairs, undefined)).multiply(there);
      for (const p of own)
        expect(new Vector3(...p).applyMatrix4(found).distanceTo(new Vector3(...p))).toBeLessThan(1e-6);
    }
  });
  it("composes as matrices do", () => {
    const one = (): Similarity => {
      const q = fromAxisAngle(normalize(vec(1)), 160 * random());
      return {
        scale: 0.2 + random(),
        rotation: Float64Array.from(
          [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ].flatMap((e) => [...rotate(q, e as unknown as Vec3)]),
        ),
        offset: vec(2),
      };
    };
    const [a, b] = [one(), one()];
    const both = matrixOf(a).multiply(matrixOf(b)).elements;
    matrixOf(after(a, b)).elements.forEach((x, i) => expect(x).toBeCloseTo(both[i]!, 10));
  });
  it(
    "by planes comes to the exact motion of an ellipsoid in a " +
      "few steps (Chen & Medioni 1992: quadratic near the answer)",
    () => {
      const motion: Similarity = {
        scale: 1.03,
        rotation: Float64Array.from(
          [
            [1, 0, 0],
            [0, 1, 0],
            [0, 0, 1],
          ].flatMap((e) => [...rotate(fromAxisAngle(normalize([1, 2, -1]), 6), e as unknown as Vec3)]),
        ),
        offset: [0.01, -0.02, 0.015],
      };
      const spots = Array.from({ length: 300 }, () => {
        const d = normalize(vec(1));
        const p: Vec3 = [0.07 * d[0], 0.11 * d[1], 0.09 * d[2]];
        return { p, n: normalize([p[0] / 0.07 ** 2, p[1] / 0.11 ** 2, p[2] / 0.09 ** 2]) };
      });
      let place: Similarity = { scale: 1, rotation: Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1), offset: [0, 0, 0] };
      // points that were moved go back onto the planes they came from
      const left: number[] = [];
      for (let round = 0; round < 8; round++) {
        const pairs: PlanePair[] = spots.map(({ p, n }) => ({
          from: applySimilarity(place, ...applySimilarity(motion, ...p)),
          to: p,
          normal: n,
          weight: 1,
        }));
        left.push(Math.max(...pairs.map((q) => Math.hypot(...q.from.map((x, c) => x - q.to[c]!)))));
        place = after(stepOnto(pairs, true), place);
      }
      expect(left[0]!).toBeGreaterThan(0.01);
      expect(left.at(-1)!).toBeLessThan(1e-7);
    },
  );
});

describe("an eyeball among its lids", () => {
  it("goes exactly where the lids went, where they moved as a whole (closed form)", () => {
    const [centre, radius]: [Vec3, number] = [[0.03, 1.5, 0.08], 0.012];
    const P = Float32Array.from(
      Array.from({ length: 80 }, () => {
        const d = normalize([random() - 0.5, random() - 0.5, 0.4 + random()]);
        return d.map((x, c) => centre[c]! + (radius + 0.001 * random()) * x);
      }).flat(),
    );
    const shift: Vec3 = [0.002, -0.003, 0.0015];
    const laid = P.map((x, i) => x + shift[i % 3]!);
    const by = seatEyeball({ centre, radius, residual: 0 }, 1, centre, P, laid, new Uint8Array(80).fill(1));
    by.forEach((x, c) => expect(Math.abs(x - shift[c]!)).toBeLessThan(1.5e-4));
  });
});

describe("the skin's distance to a scan", () => {
  it("is the one that three-mesh-bvh measures", async () => {
    const oda: Character = { ...(await loadOda()), clips: [], shapes: [], drivers: [], shapeDrivers: [] };
    const tarn = cleanTarn(await loadOda());
    const marks = faceLandmarks(oda);
    const P = oda.parts[0]!.positions;
    const nose = marks.find((l) => l.id === "nose tip")!.place;
    const high = tarn.parts[0]!.positions.reduce(
      (best, _, i, T) => (i % 3 === 2 && T[i - 1]! > 1.7 && T[i]! > T[best + 2]! ? i - 2 : best),
      0,
    );
    const to = [0, 1, 2].map((c) => nose[c]! - 0.93 * tarn.parts[0]!.positions[high + c]!);
    const scan = scanOf(
      tarn,
      ([, y, z]) => y > 1.72 && y < 1.78 && z > 0.1,
      (p) => p.map((x, c) => 0.93 * x + to[c]!) as unknown as Vec3,
    );
    const laid = await layOnScan(oda, scan, { closeness: 0.3 });
    const part = scanPart(scan);
    const geometry = new BufferGeometry();
    geometry.setAttribute("position", new BufferAttribute(scan.positions, 3));
    geometry.setIndex(new BufferAttribute(triangulate(part).triangles, 1));
    const bvh = new MeshBVH(geometry);
    const { moved } = movedBy(
      oda.parts[0]!,
      laid.deltas.find((d) => d.part === 0)!,
    );
    expect(laid.off.vertices.length).toBeGreaterThan(200);
    expect(P.length).toBe(moved.length);
    laid.off.vertices.forEach((v, k) => {
      const there = bvh.closestPointToPoint(new Vector3(moved[3 * v], moved[3 * v + 1], moved[3 * v + 2]))!;
      expect(laid.off.mm[k]!).toBeCloseTo(1000 * there.distance, 3);
    });
  });
});
