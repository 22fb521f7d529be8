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
    const holders = holdersOf(turners);
    return character.shapes.flatMap((shape): Finding[] => {
      const delta = shape.deltas.find((d) => d.part === body);
      if (!delta || shape.jointOffsets || isDriven(character, shape.name)) return [];
      const best = explained(turners, holders, delta);
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
    const x = share[v]! * (P[3 * v]! - centre[0]!);
    const y = share[v]! * (P[3 * v + 1]! - centre[1]!);
    const z = share[v]! * (P[3 * v + 2]! - centre[2]!);
    arms[3 * v] = x;
    arms[3 * v + 1] = y;
    arms[3 * v + 2] = z;
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

/** The turners that hold vertex v are turners[start[v]] .. turners[start[v + 1]]: most hold few vertices. */
interface Holders {
  readonly start: Uint32Array;
  readonly turners: Uint16Array;
}

function holdersOf(turners: readonly Turner[]): Holders {
  const count = (turners[0]?.arms.length ?? 0) / 3;
  const start = new Uint32Array(count + 1);
  const own: number[] = [];
  for (let v = 0; v < count; v++) {
    turners.forEach(({ arms }, t) => {
      if (arms[3 * v] !== 0 || arms[3 * v + 1] !== 0 || arms[3 * v + 2] !== 0) own.push(t);
    });
    start[v + 1] = own.length;
  }
  return { start, turners: Uint16Array.from(own) };
}

/**
 * The joint whose small turn explains most of a movement's squared length, by least squares: move = turn x arm.
 * Null without joints; joints that hold nothing of it explain nothing.
 */
function explained(
  turners: readonly Turner[],
  holders: Holders,
  { vertices, deltas }: ShapeDelta,
): { readonly joint: number; readonly explained: number } | null {
  const sums = new Float64Array(3 * turners.length);
  let total = 0;
  for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
    const dx = deltas[i]!;
    const dy = deltas[i + 1]!;
    const dz = deltas[i + 2]!;
    total += dx * dx + dy * dy + dz * dz;
    const at = 3 * vertices[k]!;
    for (let h = holders.start[vertices[k]!]!; h < holders.start[vertices[k]! + 1]!; h++) {
      const t = holders.turners[h]!;
      const { arms } = turners[t]!;
      const x = arms[at]!;
      const y = arms[at + 1]!;
      const z = arms[at + 2]!;
      sums[3 * t]! += y * dz - z * dy;
      sums[3 * t + 1]! += z * dx - x * dz;
      sums[3 * t + 2]! += x * dy - y * dx;
    }
  }
  let best: { joint: number; explained: number } | null = null;
  turners.forEach(({ joint, inverse: m }, t) => {
    const [x, y, z] = [sums[3 * t]!, sums[3 * t + 1]!, sums[3 * t + 2]!];
    const turned =
      x * (m[0]! * x + m[1]! * y + m[2]! * z) +
      y * (m[3]! * x + m[4]! * y + m[5]! * z) +
      z * (m[6]! * x + m[7]! * y + m[8]! * z);
    const share = total < 1e-14 ? 0 : turned / total;
    if (!best || share > best.explained) best = { joint, explained: share };
  });
  return best;
}
