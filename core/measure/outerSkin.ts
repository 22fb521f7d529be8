import { restTree } from "../surface/restTree";
import { castRay, type Bvh } from "../math/bvh";

/** Directions over a hemisphere about +z: one straight out, two rings. */
const DIRECTIONS: readonly (readonly [number, number, number])[] = [
  [0, 0, 1],
  ...[0.5, 0.85].flatMap((s, r) =>
    Array.from({ length: 6 }, (_, i): [number, number, number] => {
      const a = (2 * Math.PI * (i + r / 2)) / 6;
      return [s * Math.cos(a), s * Math.sin(a), Math.sqrt(1 - s * s)];
    }),
  ),
];
/** Share of the directions that must reach the open. */
const OPEN = 0.3;

/** What was asked of a surface before: its tree, and by triangle 1 where it is seen, 2 where it is not. */
interface Asked {
  readonly triangles: Uint32Array;
  readonly bvh: Bvh;
  readonly seen: Uint8Array;
}
const known = new WeakMap<Float32Array, Asked>();

/**
 * Triangles that can be seen from outside: most of the half space before them is not shut off by the surface itself.
 * The lining of a closed mouth cannot.
 * @param bvh over all triangles of the surface. @param wanted triangles to ask. @param positions 3 x vertexCount.
 */
export const outerTriangles = (bvh: Bvh, positions: Float32Array, wanted: ArrayLike<number>): Uint32Array =>
  Uint32Array.from(wanted).filter((t) => isOuter(bvh, positions, t));

/**
 * The same of a surface at rest, whose positions are never written again: each triangle is asked once, whoever wants
 * it.
 */
export function outerAtRest(triangles: Uint32Array, positions: Float32Array, wanted: ArrayLike<number>): Uint32Array {
  let asked = known.get(positions);
  if (!asked || asked.triangles !== triangles) {
    asked = { triangles, bvh: restTree(triangles, positions), seen: new Uint8Array(triangles.length / 3) };
    known.set(positions, asked);
  }
  const { bvh, seen } = asked;
  return Uint32Array.from(wanted).filter((t) => {
    if (seen[t] === 0) seen[t] = isOuter(bvh, positions, t) ? 1 : 2;
    return seen[t] === 1;
  });
}

function isOuter(bvh: Bvh, positions: Float32Array, t: number): boolean {
  const { triangles: T } = bvh;
  const [a, b, c] = [3 * T[3 * t]!, 3 * T[3 * t + 1]!, 3 * T[3 * t + 2]!];
  const u = [0, 1, 2].map((k) => positions[b + k]! - positions[a + k]!);
  const v = [0, 1, 2].map((k) => positions[c + k]! - positions[a + k]!);
  const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
  const l = Math.hypot(...n);
  if (l < 1e-14) return false;
  const z = n.map((x) => x / l);
  const side = Math.abs(z[0]!) < 0.7 ? [1, 0, 0] : [0, 1, 0];
  const x = [
    side[1]! * z[2]! - side[2]! * z[1]!,
    side[2]! * z[0]! - side[0]! * z[2]!,
    side[0]! * z[1]! - side[1]! * z[0]!,
  ];
  const lx = Math.hypot(...x);
  const y = [z[1]! * x[2]! - z[2]! * x[1]!, z[2]! * x[0]! - z[0]! * x[2]!, z[0]! * x[1]! - z[1]! * x[0]!];
  const from = [0, 1, 2].map((k) => (positions[a + k]! + positions[b + k]! + positions[c + k]!) / 3 + 1e-5 * z[k]!);
  // no more is asked once it cannot be otherwise
  let needed = Math.ceil(OPEN * DIRECTIONS.length);
  let left = DIRECTIONS.length;
  for (const [dx, dy, dz] of DIRECTIONS) {
    if (needed === 0 || needed > left) break;
    const d = [0, 1, 2].map((k) => (dx * x[k]! + dy * y[k]!) / lx + dz * z[k]!);
    let hit = false;
    castRay(bvh, positions, from[0]!, from[1]!, from[2]!, d[0]!, d[1]!, d[2]!, () => (hit = true));
    if (!hit) needed--;
    left--;
  }
  return needed === 0;
}
