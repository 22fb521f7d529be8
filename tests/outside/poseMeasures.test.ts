import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Triangle, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { computeNormals, normalFacesOf } from "../../core/deform/computeNormals";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import type { JointRegion } from "../../core/measure/jointRegion";
import { limbVolume } from "../../core/measure/limbVolume";
import { lidOpening, makeOpeningGauge } from "../../core/measure/openings";
import { makeOverlapFinder, skinOverlap } from "../../core/measure/skinOverlap";
import { turnedFaces } from "../../core/measure/turnedFaces";
import { triangulate, type Part } from "../../core/model/character";
import { characterWith, partOf, tube } from "../helpers/characters";
import { between, randomFrom } from "../helpers/random";

type Point = [number, number, number];
/** A closed sphere of quads with triangles at its poles, +Y up. */
function sphere(centre: Point, radius: number, rings: number, sides: number): { points: Point[]; faces: number[][] } {
  const points: Point[] = [];
  const faces: number[][] = [];
  for (let r = 1; r < rings; r++)
    for (let s = 0; s < sides; s++) {
      const [a, b] = [(Math.PI * r) / rings, (2 * Math.PI * s) / sides];
      points.push([
        centre[0] + radius * Math.sin(a) * Math.sin(b),
        centre[1] + radius * Math.cos(a),
        centre[2] + radius * Math.sin(a) * Math.cos(b),
      ]);
    }
  for (let r = 0; r + 2 < rings; r++)
    for (let s = 0; s < sides; s++) {
      const t = (s + 1) % sides;
      faces.push([r * sides + s, (r + 1) * sides + s, (r + 1) * sides + t, r * sides + t]);
    }
  const top = points.push([centre[0], centre[1] + radius, centre[2]]) - 1;
  const foot = points.push([centre[0], centre[1] - radius, centre[2]]) - 1;
  const last = (rings - 2) * sides;
  for (let s = 0; s < sides; s++) {
    faces.push([top, s, (s + 1) % sides]);
    faces.push([foot, last + ((s + 1) % sides), last + s]);
  }
  return { points, faces };
}
/** The same surface in npm three-mesh-bvh. */
function theirs(P: Float32Array, triangles: Uint32Array): MeshBVH {
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(P.slice(), 3));
  geometry.setIndex(new BufferAttribute(triangles.slice(), 1));
  return new MeshBVH(geometry, { indirect: true });
}
const none = new Uint32Array(0);
const region = (fields: Partial<JointRegion>): JointRegion => ({
  joint: -1,
  part: 0,
  share: new Float32Array(0),
  vertices: none,
  limbTriangles: none,
  borderEdges: none,
  capOfEdge: none,
  capCount: 0,
  edges: none,
  moving: none,
  still: none,
  centre: [0, 0, 0],
  radius: 0.01,
  ...fields,
});

describe("skin in skin: a ball pushed into another", () => {
  // two balls of 50 mm that stand 200 mm apart at rest, the second moved till 18 mm of it are in the first
  const [still, moving] = [sphere([0, 0, 0], 0.05, 24, 36), sphere([0.2, 0, 0], 0.05, 24, 36)];
  const n = still.points.length;
  const part = partOf(
    "balls",
    [...still.points, ...moving.points],
    [...still.faces, ...moving.faces.map((f) => f.map((v) => v + n))],
  );
  const { triangles } = triangulate(part);
  const half = triangles.length / 6;
  const rest = part.positions;
  const posed = rest.map((x, i) => (i >= 3 * n && i % 3 === 0 ? x - 0.118 : x));
  const share = Float32Array.from({ length: 2 * n }, (_, v) => (v < n ? 0 : 1));
  const list = (from: number): Uint32Array => Uint32Array.from({ length: half }, (_, t) => from + t);
  const finder = makeOverlapFinder(region({ share, still: list(0), moving: list(half) }), triangles, rest);
  const normals = new Float32Array(posed.length);
  computeNormals(posed, normalFacesOf(part, null), null, normals);
  const { depth, depths } = skinOverlap(finder, rest, posed, normals);
  const ball = theirs(posed, triangles.slice(0, triangles.length / 2));
  const inside = (x: number, y: number, z: number): boolean =>
    ball.raycast(new Ray(new Vector3(x, y, z), new Vector3(0.431, 0.811, -0.395).normalize()), DoubleSide).length %
      2 ===
    1;

  it("is as deep as two spheres are in each other (closed form: 2 r - d, less what facets lose)", () => {
    expect(1000 * depth).toBeLessThanOrEqual(18);
    expect(1000 * depth).toBeGreaterThan(17.4);
  });
  it("counts the vertices that ray parity of three-mesh-bvh finds inside, as deep as its closest point says", () => {
    let counted = 0;
    for (let v = n; v < 2 * n; v++) {
      const [x, y, z] = [posed[3 * v]!, posed[3 * v + 1]!, posed[3 * v + 2]!];
      const { distance } = ball.closestPointToPoint(new Vector3(x, y, z))!;
      // at the very border either may be right
      if (distance < 5e-4) continue;
      expect([v, depths[v]! > 0]).toEqual([v, inside(x, y, z)]);
      if (depths[v] === 0) continue;
      counted++;
      expect(depths[v]).toBeCloseTo(distance, 6);
    }
    expect(counted).toBeGreaterThan(30);
  });
});

describe("volume of a limb", () => {
  const limb = tube();
  const rig = makeRig(limb);
  const triangles = rig.triangles[0]!;
  const whole = region({ limbTriangles: Uint32Array.from({ length: triangles.length / 3 }, (_, t) => t) });

  it("of a straight tube is that of a prism over a regular polygon (closed form: n/2 r² sin(2π/n) h)", () =>
    expect(limbVolume(whole, triangles, limb.parts[0]!.positions)).toBeCloseTo(
      12 * 0.05 ** 2 * Math.sin((2 * Math.PI) / 24) * 0.6,
      7,
    ));
  it("of a bent one is what lines of sight through three-mesh-bvh run inside it, summed over a grid", () => {
    const P = deform(rig, { ...REST_MOMENT, pose: { lower: [55, 0, 0] } }).positions[0]!;
    const bvh = theirs(P, triangles);
    const step = 0.002;
    let sum = 0;
    let lines = 0;
    for (let x = -0.06 + step / 2; x < 0.06; x += step)
      for (let y = -0.05 + step / 2; y < 0.65; y += step) {
        const hits = bvh
          .raycast(new Ray(new Vector3(x, y, -1), new Vector3(0, 0, 1)), DoubleSide)
          .map((h) => h.distance)
          .sort((a, b) => a - b);
        if (hits.length % 2) continue; // along an edge
        for (let i = 0; i < hits.length; i += 2) sum += hits[i + 1]! - hits[i]!;
        lines += hits.length / 2;
      }
    expect(lines).toBeGreaterThan(5000);
    const volume = limbVolume(whole, triangles, P);
    expect(Math.abs(sum * step * step - volume) / volume).toBeLessThan(0.004);
  });
});

it("faces turned inside out are those whose normal, by three's Triangle, points against the one at rest", () => {
  const { points, faces } = sphere([0, 0, 0], 0.1, 12, 18);
  const part = partOf("ball", points, faces);
  const { triangles } = triangulate(part);
  const random = randomFrom(5);
  const posed = part.positions.map((x) => x + between(random, -0.03, 0.03));
  const normal = (P: Float32Array, t: number): Vector3 => {
    const at = (k: number): Vector3 => new Vector3().fromArray(P, 3 * triangles[3 * t + k]!);
    return new Triangle(at(0), at(1), at(2)).getNormal(new Vector3());
  };
  const expected = Array.from({ length: triangles.length / 3 }, (_, t) => t).filter(
    (t) => normal(part.positions, t).dot(normal(posed, t)) < 0,
  );
  expect(expected.length).toBeGreaterThan(20);
  expect([...turnedFaces(triangles, null, part.positions, posed, null, null)]).toEqual(expected);
});

describe("an eye between lids that are cut level", () => {
  /** Skin over an eyeball as a sphere 0.5 mm outside of it, left out between two heights. */
  const lids = (centre: Point, slit: number): { points: Point[]; faces: number[][] } => {
    const radius = 0.0125;
    const rows = [1, 0.8, 0.6, 0.4, slit / 2 / radius];
    const points: Point[] = [];
    const faces: number[][] = [];
    const sides = 48;
    for (const up of [1, -1])
      for (const row of rows)
        for (let s = 0; s < sides; s++) {
          const ring = radius * Math.sqrt(Math.max(0, 1 - row * row));
          const b = (2 * Math.PI * s) / sides;
          points.push([centre[0] + ring * Math.sin(b), centre[1] + up * radius * row, centre[2] + ring * Math.cos(b)]);
        }
    for (let lid = 0; lid < 2; lid++)
      for (let r = 0; r + 1 < rows.length; r++)
        for (let s = 0; s < sides; s++) {
          const at = (row: number, side: number): number => (lid * rows.length + row) * sides + (side % sides);
          const face = [at(r, s), at(r + 1, s), at(r + 1, s + 1), at(r, s + 1)];
          faces.push(lid ? face.reverse() : face);
        }
    return { points, faces };
  };
  const centres: readonly Point[] = [
    [0.031, 1.6, 0.08],
    [-0.031, 1.6, 0.08],
  ];
  const withSlits = (slits: readonly [number, number]): Part[] => {
    const skin = centres.map((c, i) => lids(c, slits[i]!));
    const shift = skin[0]!.points.length;
    const eyes = centres.map((c, i) => {
      const { points, faces } = sphere(c, 0.012, 16, 24);
      return partOf(i ? "eye right" : "eye left", points, faces, { kind: "eye" });
    });
    const faces = [...skin[0]!.faces, ...skin[1]!.faces.map((f) => f.map((v) => v + shift))];
    return [partOf("body", [...skin[0]!.points, ...skin[1]!.points], faces), ...eyes];
  };
  it.each([
    [0.0, 0.004],
    [0.0007, 0.0021],
    [0.006, 0.0003],
  ])("is seen over %d m on the left and %d m on the right, read to a line of sight of 0.05 mm", (left, right) => {
    const parts = withSlits([left, right]);
    const gauge = makeOpeningGauge(makeRig(characterWith({ parts })))!;
    const P = parts.map((p) => p.positions);
    expect(Math.abs(lidOpening(gauge, P, "left") - left)).toBeLessThan(1.1e-4);
    expect(Math.abs(lidOpening(gauge, P, "right") - right)).toBeLessThan(1.1e-4);
  });
});
