import { quat, quat2, vec3 } from "gl-matrix";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { skinMatrices, worldMatrices } from "../../core/evaluate/poseSkeleton";
import { correctiveFromSculpt } from "../../core/correctives/correctiveFromSculpt";
import { NO_JOINT } from "../../core/model/character";
import { characterWith, partOf, randomCharacter, randomPose, skeletonOf } from "../helpers/characters";
import { between, randomFrom } from "../helpers/random";

/** One point at radius 1 from a twisting axis, half held by a still and half by a turning joint. */
const halfAndHalf = characterWith({
  parts: [
    partOf(
      "p",
      [
        [1, 0, 0],
        [0, 0, 1],
        [0.6, 0.3, 0.8],
      ],
      [[0, 1, 2]],
      {
        skin: {
          influenceCount: 2,
          joints: Uint16Array.of(0, 1, 0, 1, 0, 1),
          weights: new Float32Array(6).fill(0.5),
          inverseBinds: null,
        },
      },
    ),
  ],
  skeleton: skeletonOf([
    { name: "still", parent: NO_JOINT },
    { name: "turning", parent: 0 },
  ]),
});
const rig = makeRig(halfAndHalf);
const radius = (P: Float32Array, v: number): number => Math.hypot(P[3 * v]!, P[3 * v + 2]!);

describe("twist between two joints", () => {
  // the mean of two points t apart on a circle lies at cos(t/2) of its radius: geometry; described for skinning by
  // Kavan et al. 2007, section 1
  it.each([20, 60, 90, 120, 150])("shrinks to cos(t/2) with linear skinning at %d degrees", (t) => {
    const P = deform(rig, { ...REST_MOMENT, pose: { turning: [0, t, 0] } }).positions[0]!;
    for (let v = 0; v < 3; v++) expect(radius(P, v)).toBeCloseTo(Math.cos((t * Math.PI) / 360), 5);
  });
  // Kavan, Collins, Zara, O'Sullivan 2007, "Skinning with dual quaternions": the blend of two turns about one axis
  // turns half way and keeps the radius
  it.each([20, 60, 90, 120, 150])("keeps its radius and turns half way with dual quaternions at %d degrees", (t) => {
    const P = deform(rig, { ...REST_MOMENT, method: "dual", pose: { turning: [0, t, 0] } }).positions[0]!;
    for (let v = 0; v < 3; v++) expect(radius(P, v)).toBeCloseTo(1, 5);
    const half = (t * Math.PI) / 360;
    expect(P[0]).toBeCloseTo(Math.cos(half), 5);
    expect(P[2]).toBeCloseTo(-Math.sin(half), 5);
  });
});

describe("dual quaternion skinning against gl-matrix", () => {
  // Kavan et al. 2007, algorithm 1: unit dual quaternions of the joints, signs made to agree, weighted sum, normalised.
  // Arithmetic by npm gl-matrix quat2.
  it.each([1, 2, 3, 4])("agrees to 1e-5 m on a random skin and pose (seed %d)", (seed) => {
    const random = randomFrom(100 + seed);
    const character = randomCharacter(random, { vertices: 120, joints: 6, shapes: 0 });
    const pose = randomPose(random, character, 100);
    const ours = deform(makeRig(character), { ...REST_MOMENT, method: "dual", pose }).positions[0]!;
    const skeleton = character.skeleton!;
    const m = skinMatrices(worldMatrices(skeleton, pose), skeleton.inverseBinds);
    const duals = skeleton.joints.map((_, j) =>
      quat2.fromMat4(quat2.create(), Array.from(m.subarray(16 * j, 16 * j + 16)) as never),
    );
    const { joints, weights, influenceCount } = character.parts[0]!.skin!;
    for (let v = 0; v < 120; v++) {
      const sum = quat2.fromValues(0, 0, 0, 0, 0, 0, 0, 0);
      const first = duals[joints[v * influenceCount]!]!;
      for (let k = 0; k < influenceCount; k++) {
        const d = duals[joints[v * influenceCount + k]!]!;
        const sign = quat.dot(d as unknown as quat, first as unknown as quat) < 0 ? -1 : 1;
        for (let i = 0; i < 8; i++) sum[i]! += sign * weights[v * influenceCount + k]! * d[i]!;
      }
      quat2.normalize(sum, sum);
      const moved = vec3.fromValues(
        ...(Array.from(character.parts[0]!.positions.subarray(3 * v, 3 * v + 3)) as [number, number, number]),
      );
      vec3.transformQuat(moved, moved, quat2.getReal(quat.create(), sum));
      vec3.add(moved, moved, quat2.getTranslation(vec3.create(), sum));
      expect(
        Math.hypot(ours[3 * v]! - moved[0], ours[3 * v + 1]! - moved[1], ours[3 * v + 2]! - moved[2]),
      ).toBeLessThan(1e-5);
    }
  });
});

describe("returning a sculpt to rest", () => {
  // the defining property: posed again, the corrective gives the sculpt back. Well-conditioned skins, 1e-6 m
  it.each(["linear", "dual"] as const)("round trips to 1e-6 m over random skins and poses (%s)", (method) => {
    for (let seed = 0; seed < 12; seed++) {
      const random = randomFrom(1000 + seed);
      const character = randomCharacter(random, { vertices: 150, joints: 5, influences: 1 + (seed % 4) });
      const moment = { ...REST_MOMENT, method, pose: randomPose(random, character, 35), weights: { "shape 0": 0.5 } };
      const own = makeRig(character);
      const posed = deform(own, moment).positions[0]!;
      const made = correctiveFromSculpt(own, moment, [posed.map((x) => x + between(random, -0.01, 0.01))]);
      expect(made.ill).toEqual([]);
      expect(made.residual.max / 1000).toBeLessThan(1e-6);
    }
  });
});
