import fc from "fast-check";
import { boxPart, characterWith, partOf, shapeOf, tube } from "../../tests/helpers/characters";
import { randomFrom } from "../../tests/helpers/random";
import { makeRig, withShapes } from "../deform/rig";
import { REST_MOMENT } from "../evaluate/moment";
import { triangulate, type Character } from "../model/character";
import type { JointMotion } from "../skeleton/jointMotions";
import { buildBvh, castRay, closestPoint, refitBvh, windingNumber } from "../math/bvh";
import { edgeStretch, percentile, vertexStretch } from "./edgeStretch";
import { jointRegion, mainRegion, subtreeOf, weightShare } from "./jointRegion";
import { limbVolume } from "./limbVolume";
import { makeJointGauge, measureJoint, withRig } from "./measureJoint";
import { measureShapes } from "./measureShapes";
import { shapePlace } from "./shapeRegion";
import { sweepAngles, sweepMotion } from "./sweepMotion";
import { turnedFaces } from "./turnedFaces";

const bend: JointMotion = {
  id: "lower/bend",
  joint: "lower",
  bone: "leftLowerArm",
  name: "bend",
  label: "left lower arm bend",
  axis: [1, 0, 0],
  min: 0,
  max: 150,
};
const at = (degrees: number, extra: object = {}) => ({
  ...REST_MOMENT,
  pose: { lower: [degrees, 0, 0] as const },
  ...extra,
});

function cloud(seed: number, triangles: number): { P: Float32Array; T: Uint32Array } {
  const random = randomFrom(seed);
  const P = Float32Array.from({ length: 9 * triangles }, (_, i) => (i % 9 < 3 ? 0 : 0) + random() * 2 - 1);
  for (let t = 0; t < triangles; t++)
    for (let k = 3; k < 9; k++) P[9 * t + k] = P[9 * t + (k % 3)]! + (random() - 0.5) * 0.4;
  return { P, T: Uint32Array.from({ length: 3 * triangles }, (_, i) => i) };
}

/** Distance to a triangle by sampling its plane finely: slow and plain. */
function plainDistance(P: Float32Array, T: Uint32Array, p: readonly number[]): number {
  let best = Infinity;
  const steps = 60;
  for (let t = 0; t < T.length / 3; t++)
    for (let i = 0; i <= steps; i++)
      for (let j = 0; j <= steps - i; j++) {
        const [u, v] = [i / steps, j / steps];
        const d = Math.hypot(
          ...[0, 1, 2].map(
            (k) =>
              (1 - u - v) * P[3 * T[3 * t]! + k]! +
              u * P[3 * T[3 * t + 1]! + k]! +
              v * P[3 * T[3 * t + 2]! + k]! -
              p[k]!,
          ),
        );
        if (d < best) best = d;
      }
  return best;
}

describe("bounding volume tree", () => {
  it("finds the closest point that a plain search finds", () => {
    const { P, T } = cloud(1, 40);
    const bvh = buildBvh(T, P);
    const random = randomFrom(2);
    for (let n = 0; n < 20; n++) {
      const p = [random() * 3 - 1.5, random() * 3 - 1.5, random() * 3 - 1.5] as const;
      const found = closestPoint(bvh, P, ...p);
      const plain = plainDistance(P, T, p);
      expect(found.distance).toBeLessThanOrEqual(plain + 1e-9);
      expect(found.distance).toBeGreaterThan(plain - 0.01);
      expect(Math.hypot(found.x - p[0], found.y - p[1], found.z - p[2])).toBeCloseTo(found.distance, 6);
    }
  });
  it("gives nothing beyond the distance asked for, and honours the filter", () => {
    const { P, T } = cloud(4, 10);
    const bvh = buildBvh(T, P);
    expect(closestPoint(bvh, P, 50, 0, 0, 1).triangle).toBe(-1);
    expect(closestPoint(bvh, P, 0, 0, 0, Infinity, (t) => t === 7).triangle).toBe(7);
  });
  it("is right again after a refit to moved positions", () => {
    const { P, T } = cloud(5, 60);
    const bvh = buildBvh(T, P);
    const moved = P.map((x, i) => (i % 3 === 0 ? x * 1.7 + 0.3 : -x));
    refitBvh(bvh, moved);
    const fresh = buildBvh(T, moved);
    const random = randomFrom(6);
    for (let n = 0; n < 50; n++) {
      const p = [random() * 4 - 2, random() * 4 - 2, random() * 4 - 2] as const;
      expect(closestPoint(bvh, moved, ...p).distance).toBeCloseTo(closestPoint(fresh, moved, ...p).distance, 9);
    }
  });
  it("hits a box twice with a ray through it, entering and leaving", () => {
    const part = boxPart();
    const T = triangulate(part).triangles;
    const hits: [number, number][] = [];
    castRay(buildBvh(T, part.positions), part.positions, -2, 0.1, 0.2, 1, 1e-12, 1e-12, (_t, distance, sign) =>
      hits.push([distance, sign]),
    );
    hits.sort((a, b) => a[0] - b[0]);
    expect(hits.map(([d]) => Math.round(d * 1e6) / 1e6)).toEqual([1.5, 2.5]);
    expect(hits.map(([, s]) => s)).toEqual([-1, 1]);
  });
  it("winds once round the inside of a box and not round the outside", () => {
    const part = boxPart();
    const T = triangulate(part).triangles;
    const bvh = buildBvh(T, part.positions);
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -1, max: 1, noNaN: true }))), ([x, y, z]) => {
        const inside = [x!, y!, z!].every((c) => Math.abs(c) < 0.499);
        fc.pre(inside || [x!, y!, z!].some((c) => Math.abs(c) > 0.501));
        expect(Math.round(windingNumber(bvh, part.positions, x!, y!, z!))).toBe(inside ? 1 : 0);
      }),
    );
  });
});

describe("edges", () => {
  it("are measured against their rest length", () => {
    const edges = Uint32Array.of(0, 1, 1, 2);
    const rest = Float32Array.from([0, 0, 0, 1, 0, 0, 1, 2, 0]);
    const posed = Float32Array.from([0, 0, 0, 2, 0, 0, 2, 1, 0]);
    const ratios = edgeStretch(edges, rest, posed);
    expect([...ratios]).toEqual([2, 0.5]);
    expect([...vertexStretch(edges, ratios, 4)]).toEqual([2, 2, 1, 1]);
  });
  it("have percentiles that agree with the sorted list", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 9, noNaN: true }), { minLength: 1, maxLength: 50 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (values, share) => {
          const sorted = [...values].sort((a, b) => a - b);
          const p = percentile(values, share);
          expect(p).toBeGreaterThanOrEqual(sorted[0]!);
          expect(p).toBeLessThanOrEqual(sorted[sorted.length - 1]!);
          expect(percentile(values, 1)).toBe(sorted[sorted.length - 1]);
        },
      ),
    );
  });
});

describe("the region of a joint", () => {
  const rig = makeRig(tube());
  it("is the part of the limb near the joint, held by both sides", () => {
    expect([...subtreeOf(rig.character, 1)]).toEqual([0, 1]);
    const region = jointRegion(rig, 1, 0)!;
    expect(region.centre[1]).toBeCloseTo(0.3, 6);
    expect(region.radius).toBeCloseTo(0.05, 2);
    const share = weightShare(rig.character.parts[0]!, subtreeOf(rig.character, 1));
    for (const v of region.vertices) expect(share[v]! * (1 - share[v]!)).toBeGreaterThan(0);
  });
  it("has the volume of a cylinder over its length", () => {
    const region = mainRegion(rig, 1)!;
    const P = rig.character.parts[0]!.positions;
    const heights = [...region.borderEdges].map((v) => P[3 * v + 1]!);
    const span = Math.max(...heights) - Math.min(...heights);
    // a regular 24-gon holds (n / 2 pi) sin(2 pi / n) of its circle
    const area = Math.PI * 0.05 ** 2 * ((24 / (2 * Math.PI)) * Math.sin((2 * Math.PI) / 24));
    expect(limbVolume(region, rig.triangles[0]!, P)).toBeCloseTo(area * span, 6);
  });
  it("does not exist for a joint that shares no vertex", () => {
    const rigid = tube({ blend: 0.0001, rings: 8 });
    const all = {
      ...rigid,
      parts: [
        {
          ...rigid.parts[0]!,
          skin: {
            influenceCount: 1,
            joints: new Uint16Array(rigid.parts[0]!.positions.length / 3),
            weights: new Float32Array(rigid.parts[0]!.positions.length / 3).fill(1),
            inverseBinds: null,
          },
        },
      ],
    };
    expect(mainRegion(makeRig(all), 1)).toBeNull();
    expect(makeJointGauge(makeRig(all), 1)).toBeNull();
  });
});

describe("measuring a bent limb", () => {
  const gauge = makeJointGauge(makeRig(tube()), 1)!;
  it("finds nothing at rest", () => {
    const { reading, fields } = measureJoint(gauge, at(0));
    expect(reading.volume).toBeCloseTo(0, 6);
    expect([reading.depth, reading.flips]).toEqual([0, 0]);
    expect(reading.stretch).toBeCloseTo(1, 5);
    expect(fields.depth.every((d) => d === 0)).toBe(true);
  });
  it("loses volume the more it is bent, by linear skinning", () => {
    const loss = [30, 60, 90, 120].map((a) => measureJoint(gauge, at(a)).reading.volume);
    loss.reduce((a, b) => {
      expect(b).toBeLessThan(a);
      return b;
    });
    expect(loss[3]).toBeLessThan(-0.1);
  });
  it("is the same bent either way", () =>
    expect(measureJoint(gauge, at(-80)).reading.volume).toBeCloseTo(measureJoint(gauge, at(80)).reading.volume, 5));
  it("keeps more volume with dual quaternions when twisted", () => {
    const twist = { ...REST_MOMENT, pose: { lower: [0, 120, 0] as const } };
    const linear = measureJoint(gauge, twist).reading.volume;
    const dual = measureJoint(gauge, { ...twist, method: "dual" }).reading.volume;
    expect(linear).toBeLessThan(-0.15);
    // the straight edges of the mesh still cut corners: a ring less than a ring's height apart keeps its area, a facet
    // does not
    expect(dual).toBeGreaterThan(linear / 2);
  });
  it("sees skin in skin on the inside of a sharp bend", () =>
    expect(measureJoint(gauge, at(140)).reading.depth).toBeGreaterThan(5));
  it("counts stretch on the outside", () => {
    const { reading, fields } = measureJoint(gauge, at(100));
    expect(reading.stretch).toBeGreaterThan(1.2);
    expect(Math.max(...fields.stretch)).toBeGreaterThanOrEqual(reading.stretch);
  });
  it("takes a corrective into account", () => {
    const plain = tube();
    // swell every vertex of the bending zone
    const part = plain.parts[0]!;
    const moves: Record<number, [number, number, number]> = {};
    for (let v = 0; v < part.positions.length / 3 - 2; v++)
      if (Math.abs(part.positions[3 * v + 1]! - 0.3) < 0.06)
        moves[v] = [part.positions[3 * v]! * 0.3, 0, part.positions[3 * v + 2]! * 0.3];
    const fixed: Character = {
      ...plain,
      shapes: [shapeOf("swell", moves)],
      drivers: [
        {
          shape: "swell",
          joint: "lower",
          axis: [1, 0, 0],
          fromDegrees: 0,
          toDegrees: 90,
          easing: "linear",
          intensity: 1,
          enabled: true,
        },
      ],
    };
    const corrected = withRig(gauge, withShapes(gauge.rig, fixed));
    expect(measureJoint(corrected, at(90)).reading.volume).toBeGreaterThan(
      measureJoint(gauge, at(90)).reading.volume + 0.02,
    );
    expect(measureJoint(corrected, at(90, { drivers: false })).reading.volume).toBeCloseTo(
      measureJoint(gauge, at(90)).reading.volume,
      6,
    );
  });
});

describe("sweeps", () => {
  it("cover both ends and rest", () => {
    expect(sweepAngles(0, 150, 4)).toEqual([0, 50, 100, 150]);
    expect(sweepAngles(-20, 50, 3)).toEqual([-20, 0, 15, 50]);
  });
  it("measure every angle without and with drivers and report every step", async () => {
    const gauge = makeJointGauge(makeRig(tube()), 1)!;
    const told: number[] = [];
    const rows = await sweepMotion(gauge, bend, 6, REST_MOMENT, (done) => void told.push(done));
    expect(rows.map((r) => r.angle)).toEqual([0, 30, 60, 90, 120, 150]);
    expect(told).toEqual([0, 1, 2, 3, 4, 5, 6]);
    expect(rows.every((r) => r.with === r.without)).toBe(true);
    expect(rows[3]!.without).toEqual(measureJoint(gauge, at(90)).reading);
  });
  it("stop when the tick throws", async () => {
    const gauge = makeJointGauge(makeRig(tube()), 1)!;
    await expect(
      sweepMotion(gauge, bend, 6, REST_MOMENT, (done) => {
        if (done === 2) throw new Error("cancelled");
      }),
    ).rejects.toThrow("cancelled");
  });
});

describe("turned faces", () => {
  it("are those whose normal leaves the half space its skinning would give it", () => {
    const part = partOf(
      "two",
      [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
        [2, 0, 0],
        [3, 0, 0],
        [2, 1, 0],
      ],
      [
        [0, 1, 2],
        [3, 4, 5],
      ],
    );
    const T = triangulate(part).triangles;
    const posed = part.positions.slice();
    posed.set([0, -1, 0], 6); // the first triangle's third corner goes over to the other side
    expect([...turnedFaces(T, null, part.positions, posed, null, null)]).toEqual([0]);
    expect([...turnedFaces(T, null, part.positions, part.positions, null, null)]).toEqual([]);
  });
});

describe("shapes", () => {
  const face = characterWith({
    parts: [
      partOf(
        "body",
        [
          [0.03, 1.62, 0.1],
          [-0.03, 1.62, 0.1],
          [0, 1.53, 0.1],
          [0.1, 0.5, 0],
          [0.03, 1.58, 0.1],
          [0.03, 1.57, 0.1],
        ],
        [
          [0, 1, 2],
          [3, 4, 5],
        ],
      ),
      { ...boxPart("tongue", [0.01, 0.01, 0.01], [0, 1.53, 0.08], "tongue") },
      boxPart("teeth", [0.02, 0.01, 0.01], [0, 1.53, 0.08], "teeth"),
    ],
  });
  const eyes = { centre: [0, 1.58, 0.08] as const, span: 0.062 };
  it.each<[string, Record<number, readonly [number, number, number]>, number, string, string]>([
    ["a brow", { 0: [0, 0.01, 0] }, 0, "brows", "left"],
    ["the other brow", { 1: [0, 0.01, 0] }, 0, "brows", "right"],
    ["lips", { 2: [0, 0.01, 0] }, 0, "lips", "right"],
    ["a lid", { 4: [0, -0.01, 0] }, 0, "lids", "left"],
    ["a thigh", { 3: [0.1, 0, 0] }, 0, "body", "left"],
    ["the tongue", { 0: [0, 0, 0.01] }, 1, "tongue", "both"],
    ["the jaw", { 0: [0, -0.01, 0] }, 2, "jaw", "right"],
  ])("have a region and a side by what they move: %s", (_what, moves, part, region, side) => {
    const place = shapePlace(face, shapeOf("s", moves, part), eyes);
    expect(place.region).toBe(region);
    if (region !== "lips" && region !== "jaw") expect(place.side).toBe(side);
  });
  it("that are driven are correctives", () => {
    const driven = {
      ...face,
      drivers: [
        {
          shape: "s",
          joint: "x",
          axis: [1, 0, 0] as const,
          fromDegrees: 0,
          toDegrees: 1,
          easing: "linear" as const,
          intensity: 1,
          enabled: true,
        },
      ],
    };
    expect(shapePlace(driven, shapeOf("s", { 0: [0, 1, 0] }), eyes).region).toBe("correctives");
  });
  it("are measured by their largest movement and stretch", async () => {
    const box = characterWith({
      parts: [boxPart()],
      shapes: [shapeOf("up", Object.fromEntries([2, 3, 6, 7].map((v) => [v, [0, 1, 0] as const])))],
    });
    const [reading] = await measureShapes(makeRig(box));
    expect(reading!.maxMm).toBeCloseTo(1000, 3);
    expect(reading!.vertices).toBe(4);
    expect(reading!.stretch).toBeCloseTo(2, 5);
  });
});
