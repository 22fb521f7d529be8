import { amount, check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { limbsOf } from "../../measure/limbShares";
import { isDriven, type ShapeDelta } from "../../model/character";
import { finding, type Finding } from "../finding";

/**
 * Shapes whose movement is mostly a turn of a joint: the mesh was exported in a pose, and the pose went into the shape.
 * Joints of the head are left out: a jaw that opens is a shape.
 */
export const shapesPoseBaked = check({
  id: "shapes.pose-baked",
  title: "Poses that went into shapes",
  station: "shapes",
  unit: "%",
  measures: "share of a shape that a turn of one joint outside the head explains, least squares",
  severity: "warn",
  limits: { "shapes.pose-baked": amount(50) },
  source: "our own choice: half of the movement",
  waitsFor: "stance and size",
  run: (character, { limits, humanoid }) => {
    const limit = limits["shapes.pose-baked"];
    const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
    if (limit === null || body < 0 || !character.skeleton) return [];
    const places = worldMatrices(character.skeleton, {});
    const turners = limbsOf(character, humanoid?.jointOfBone.get("head")).map((limb) =>
      turnerOf(character.parts[body]!.positions, limb.share, limb.joint, translationOf(places, 16 * limb.joint)),
    );
    return character.shapes.flatMap((shape): Finding[] => {
      const delta = shape.deltas.find((d) => d.part === body);
      if (!delta || shape.jointOffsets || isDriven(character, shape.name)) return [];
      const best = turners
        .map((t) => ({ joint: t.joint, explained: explainedBy(t, delta) }))
        .sort((a, b) => b.explained - a.explained)[0];
      if (!best || 100 * best.explained <= limit) return [];
      const name = character.skeleton!.joints[best.joint]!.name;
      return [
        finding({
          check: "shapes.pose-baked",
          severity: "warn",
          part: character.parts[body]!.name,
          joint: name,
          shape: shape.name,
          vertices: [...delta.vertices].slice(0, 200),
          value: 100 * best.explained,
          unit: "%",
          limit,
          message:
            `${(100 * best.explained).toFixed(0)} % of ${shape.label} is a turn of ` +
            `${name}: the pose went into the shape. Make it again from the mesh at rest.`,
        }),
      ];
    });
  },
});

interface Turner {
  readonly joint: number;
  /** Arm of every vertex: its place from the joint, times its share, 3 x vertexCount, metres. */
  readonly arms: Float32Array;
  /** Inverse of the sum of the squared cross products with the arms, symmetric 3x3. */
  readonly inverse: Float64Array;
}

/**
 * Tables for asking how much of a movement is a turn about a point: every vertex it holds counts, also those that a
 * shape leaves where they are.
 */
function turnerOf(P: Float32Array, share: Float32Array, joint: number, centre: readonly number[]): Turner {
  const arms = new Float32Array(P.length);
  let [xx, yy, zz, xy, xz, yz] = [0, 0, 0, 0, 0, 0];
  for (let v = 0; v < share.length; v++) {
    if (share[v] === 0) continue;
    const [x, y, z] = [0, 1, 2].map((c) => share[v]! * (P[3 * v + c]! - centre[c]!)) as [number, number, number];
    arms.set([x, y, z], 3 * v);
    xx += x * x;
    yy += y * y;
    zz += z * z;
    xy += x * y;
    xz += x * z;
    yz += y * z;
  }
  const trace = 2 * (xx + yy + zz) * 1e-9 + 1e-18;
  const [a, e, i] = [yy + zz + trace, xx + zz + trace, xx + yy + trace];
  const [p, q, r] = [-xy, -xz, -yz];
  const [A, B, C] = [e * i - r * r, q * r - p * i, p * r - q * e];
  const det = a * A + p * B + q * C;
  return {
    joint,
    arms,
    inverse: Float64Array.of(A, B, C, B, a * i - q * q, p * q - a * r, C, p * q - a * r, a * e - p * p).map(
      (x) => x / det,
    ),
  };
}

/** Share of a movement's squared length that a small turn explains, by least squares: move = turn x arm. */
function explainedBy({ arms, inverse }: Turner, { vertices, deltas }: ShapeDelta): number {
  let bx = 0;
  let by = 0;
  let bz = 0;
  let total = 0;
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const dx = deltas[i]!;
    const dy = deltas[i + 1]!;
    const dz = deltas[i + 2]!;
    total += dx * dx + dy * dy + dz * dz;
    const at = 3 * vertices[k]!;
    const x = arms[at]!;
    const y = arms[at + 1]!;
    const z = arms[at + 2]!;
    bx += y * dz - z * dy;
    by += z * dx - x * dz;
    bz += x * dy - y * dx;
  }
  if (total < 1e-14) return 0;
  const m = inverse;
  return (
    (bx * (m[0]! * bx + m[1]! * by + m[2]! * bz) +
      by * (m[3]! * bx + m[4]! * by + m[5]! * bz) +
      bz * (m[6]! * bx + m[7]! * by + m[8]! * bz)) /
    total
  );
}
