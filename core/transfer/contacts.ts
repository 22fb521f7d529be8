import { buildBvh, closestPoint, type Bvh } from "../math/bvh";
import { barycentric } from "../surface/carryMovement";
import type { Tie } from "./transferSurface";

/** Skin of two sides that comes this near is in contact, metres. */
const TOUCH = 0.0012;
/** Sides that touch face each other. */
const OPPOSED = -0.3;
/** How strongly a contact is kept, against the surface's own gradients (cotangents are about one). */
const HOLD = 4;
/** On a surface of another net the other side is looked for this far, metres. */
const LOOK = 0.006;

/** A vertex and the place of the other side that it nearly meets: lids or lips. */
export interface Contact {
  readonly vertex: number;
  readonly corners: readonly [number, number, number];
  /** Shares of the corners at the place that is met. */
  readonly share: readonly [number, number, number];
  /** From the place to the vertex, metres. */
  readonly gap: readonly [number, number, number];
}

function meeting(bvh: Bvh, moved: Float32Array, normals: Float32Array, v: number, reach: number): Contact | null {
  const normal = [normals[3 * v]!, normals[3 * v + 1]!, normals[3 * v + 2]!];
  const facing = (t: number): boolean => {
    for (let k = 0; k < 3; k++) {
      const c = bvh.triangles[3 * t + k]!;
      if (
        c === v ||
        normal[0]! * normals[3 * c]! + normal[1]! * normals[3 * c + 1]! + normal[2]! * normals[3 * c + 2]! >= OPPOSED
      )
        return false;
    }
    return true;
  };
  const c = closestPoint(bvh, moved, moved[3 * v]!, moved[3 * v + 1]!, moved[3 * v + 2]!, reach, facing);
  if (c.triangle < 0) return null;
  const corners = [0, 1, 2].map((k) => bvh.triangles[3 * c.triangle + k]!) as [number, number, number];
  return {
    vertex: v,
    corners,
    share: barycentric(moved, corners, c),
    gap: [moved[3 * v]! - c.x, moved[3 * v + 1]! - c.y, moved[3 * v + 2]! - c.z],
  };
}

/** Contacts of a moved surface with itself. @param asked vertices that moved. @param normals of the moved surface. */
export function contactsOf(
  triangles: Uint32Array,
  moved: Float32Array,
  normals: Float32Array,
  asked: ArrayLike<number>,
): Contact[] {
  const bvh = buildBvh(triangles, moved);
  return Array.from(asked).flatMap((v) => meeting(bvh, moved, normals, v, TOUCH) ?? []);
}

/**
 * The same contacts on a surface of another net: where a vertex stands for one in contact, it is to meet the other side
 * with the same gap. @param vertexOf vertex there for each vertex here.
 */
export function contactsLike(
  there: readonly Contact[],
  vertexOf: Int32Array,
  triangles: Uint32Array,
  moved: Float32Array,
  normals: Float32Array,
): Contact[] {
  const gaps = new Map(there.map((c) => [c.vertex, c.gap]));
  const bvh = buildBvh(triangles, moved);
  const out: Contact[] = [];
  vertexOf.forEach((u, v) => {
    const gap = gaps.get(u);
    const here = gap && meeting(bvh, moved, normals, v, LOOK);
    if (here) out.push({ ...here, gap });
  });
  return out;
}

/** Contacts as ties of the movement of a surface. @param rest its rest places, 3 x vertexCount. */
export const tiesAt = (contacts: readonly Contact[], rest: ArrayLike<number>): Tie[] =>
  contacts.map(({ vertex, corners, share, gap }) => ({
    terms: [[vertex, 1], ...corners.map((w, i) => [w, -share[i]!] as const)],
    value: [0, 1, 2].map(
      (k) => gap[k]! - (rest[3 * vertex + k]! - corners.reduce((sum, w, i) => sum + share[i]! * rest[3 * w + k]!, 0)),
    ) as [number, number, number],
    weight: HOLD,
  }));
