import { cross, dot, lerp, type Vec3 } from "../../core/math/vec3";

export type Quad = [number, number, number, number];
export type Quads = readonly (readonly number[])[];
/** Cell rectangle of a grid that is left open: columns from..to, rows from..to. */
export interface GridWindow {
  readonly columns: readonly [number, number];
  readonly rows: readonly [number, number];
}

/**
 * A mesh of quads under construction; every vertex carries a tag that says what it is. Indices are stable: vertices are
 * only appended.
 */
export class QuadMesh<Tag> {
  readonly points: Vec3[] = [];
  readonly tags: Tag[] = [];
  readonly quads: Quad[] = [];

  add(point: Vec3, tag: Tag): number {
    this.points.push(point);
    this.tags.push(tag);
    return this.points.length - 1;
  }

  /** Quads between two rings of the same length, corner order a, b, next b, next a; `flip` turns them round. */
  bridge(a: readonly number[], b: readonly number[], { closed = true, flip = false } = {}): void {
    if (a.length !== b.length) throw new Error(`bridge: rings of ${a.length} and ${b.length} vertices`);
    const n = a.length;
    for (let k = 0; k < (closed ? n : n - 1); k++) {
      const next = (k + 1) % n;
      this.quads.push(flip ? [a[k]!, a[next]!, b[next]!, b[k]!] : [a[k]!, b[k]!, b[next]!, a[next]!]);
    }
  }

  /** Quads of a grid of rows, corner order down, right, up. */
  fill(rows: readonly (readonly number[])[]): void {
    for (let r = 0; r + 1 < rows.length; r++) this.bridge(rows[r]!, rows[r + 1]!, { closed: false });
  }

  /** Closes an even ring with a strip of quads across it. */
  capRing(ring: readonly number[], { flip = false } = {}): void {
    const n = ring.length;
    for (let k = 0; k < n / 2 - 1; k++) {
      const [a, b, c, d] = [ring[k]!, ring[k + 1]!, ring[n - 2 - k]!, ring[n - 1 - k]!];
      this.quads.push(flip ? [a, d, c, b] : [a, b, c, d]);
    }
  }
}

export const isInside = (i: number, j: number, { columns, rows }: GridWindow): boolean =>
  i > columns[0] && i < columns[1] && j > rows[0] && j < rows[1];
export const isCellInside = (i: number, j: number, { columns, rows }: GridWindow): boolean =>
  i >= columns[0] && i < columns[1] && j >= rows[0] && j < rows[1];

/**
 * Grid places round a window: along the first row, down the last column, back along the last row, up the first column.
 */
export function windowRing({ columns: [i0, i1], rows: [j0, j1] }: GridWindow): [number, number][] {
  const ring: [number, number][] = [];
  for (let i = i0; i < i1; i++) ring.push([i, j0]);
  for (let j = j0; j < j1; j++) ring.push([i1, j]);
  for (let i = i1; i > i0; i--) ring.push([i, j1]);
  for (let j = j1; j > j0; j--) ring.push([i0, j]);
  return ring;
}

/** Neighbours of every vertex along the quads' sides, in the order in which the quads name them. */
export function neighbourSets(quads: Quads, vertexCount: number): Set<number>[] {
  const sets = Array.from({ length: vertexCount }, () => new Set<number>());
  for (const q of quads)
    for (let k = 0; k < 4; k++) {
      sets[q[k]!]!.add(q[(k + 1) % 4]!);
      sets[q[(k + 1) % 4]!]!.add(q[k]!);
    }
  return sets;
}

/** Mean of some points. */
export function meanOf(points: readonly Vec3[], of: Iterable<number>): Vec3 {
  let [x, y, z, n] = [0, 0, 0, 0];
  for (const v of of) {
    const p = points[v]!;
    x += p[0];
    y += p[1];
    z += p[2];
    n++;
  }
  return [x / n, y / n, z / n];
}

/** Point of a Coons patch (Coons 1967): four border curves, s down from top to bottom, t across from left to right. */
export function coonsPoint(
  s: number,
  t: number,
  border: { top: Vec3; bottom: Vec3; left: Vec3; right: Vec3 },
  corner: { topLeft: Vec3; topRight: Vec3; bottomLeft: Vec3; bottomRight: Vec3 },
): Vec3 {
  const ruled = lerp(border.top, border.bottom, s);
  const across = lerp(border.left, border.right, t);
  const bilinear = lerp(lerp(corner.topLeft, corner.topRight, t), lerp(corner.bottomLeft, corner.bottomRight, t), s);
  return [0, 1, 2].map((k) => ruled[k]! + across[k]! - bilinear[k]!) as unknown as Vec3;
}

const edgeKey = (a: number, b: number): number => (a < b ? a * 65536 + b : b * 65536 + a);

/** Six times the volume that the quads enclose; positive when they face outward. */
export function sixVolumes(points: readonly Vec3[], quads: Quads): number {
  let volume = 0;
  for (const q of quads) {
    const [a, b, c, d] = q.map((i) => points[i]!) as [Vec3, Vec3, Vec3, Vec3];
    volume += dot(a, cross(b, c)) + dot(a, cross(c, d));
  }
  return volume;
}

/** Turns a quad over in place, its first corner kept: it is still cut into triangles along the same diagonal. */
export function turnOver(q: Quad): void {
  [q[1], q[3]] = [q[3], q[1]];
}

/**
 * Turns quads round, in place, until neighbours agree and the whole faces outward. Throws when an edge has more than
 * two faces.
 */
export function orientOutward(points: readonly Vec3[], quads: Quad[]): void {
  const facesAt = new Map<number, number[]>();
  quads.forEach((q, f) => {
    for (let k = 0; k < 4; k++) {
      const key = edgeKey(q[k]!, q[(k + 1) % 4]!);
      const faces = facesAt.get(key);
      if (!faces) facesAt.set(key, [f]);
      else if (faces.push(f) > 2)
        throw new Error(`orientOutward: edge ${q[k]}-${q[(k + 1) % 4]} has ${faces.length} faces`);
    }
  });
  const seen = new Uint8Array(quads.length);
  const open = [0];
  seen[0] = 1;
  while (open.length) {
    const q = quads[open.pop()!]!;
    for (let k = 0; k < 4; k++) {
      const [a, b] = [q[k]!, q[(k + 1) % 4]!];
      for (const f of facesAt.get(edgeKey(a, b))!) {
        if (seen[f]) continue;
        seen[f] = 1;
        const other = quads[f]!;
        if (other.some((v, m) => v === a && other[(m + 1) % 4] === b)) turnOver(other);
        open.push(f);
      }
    }
  }
  if (sixVolumes(points, quads) < 0) for (const q of quads) turnOver(q);
}
