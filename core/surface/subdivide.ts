/** Faces of a mesh, polygons of any size. */
export interface Net {
  readonly vertexCount: number;
  readonly corners: Uint32Array;
  readonly faceStarts: Uint32Array;
}

/** Each row of a fine mesh as a weighted mean of coarse vertices: entries `start[r]` to `start[r + 1]`. */
export interface Stencils {
  readonly start: Uint32Array;
  readonly vertices: Uint32Array;
  readonly weights: Float64Array;
}

/** A net subdivided: first the coarse vertices, then a vertex for each edge, then one for each face; all quads. */
export interface FineNet extends Net {
  readonly stencils: Stencils;
  /** Coarse vertex, edge or face behind each quad's first corner: the coarse face it lies in. */
  readonly faceOf: Uint32Array;
}

/** How subdivided vertices are placed: by Catmull and Clark's rules, or in the middle of edges and faces. */
export type SubdivisionRule = "smooth" | "flat";

interface Edges {
  /** Two coarse vertices an edge. */
  readonly ends: number[];
  /** Faces at each edge. */
  readonly faces: number[][];
  /** Edge that starts at each corner. */
  readonly ofCorner: Uint32Array;
}

function edgesOf({ vertexCount, corners, faceStarts }: Net): Edges {
  const known = new Map<number, number>();
  const ends: number[] = [];
  const faces: number[][] = [];
  const ofCorner = new Uint32Array(corners.length);
  for (let f = 0; f + 1 < faceStarts.length; f++)
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++) {
      const [a, b] = [corners[k]!, corners[k + 1 < faceStarts[f + 1]! ? k + 1 : faceStarts[f]!]!];
      const key = Math.min(a, b) * vertexCount + Math.max(a, b);
      let e = known.get(key);
      if (e === undefined) {
        e = faces.length;
        known.set(key, e);
        ends.push(a, b);
        faces.push([]);
      }
      faces[e]!.push(f);
      ofCorner[k] = e;
    }
  return { ends, faces, ofCorner };
}

/**
 * One step of Catmull-Clark subdivision (Catmull & Clark 1978), borders as cubic B-spline curves; edges of more than
 * two faces count as borders.
 */
export function subdivide(net: Net, rule: SubdivisionRule = "smooth"): FineNet {
  const { vertexCount, corners, faceStarts } = net;
  const edges = edgesOf(net);
  const [edgeCount, faceCount] = [edges.faces.length, faceStarts.length - 1];
  const faceRow = (f: number, by: number, into: Map<number, number>): void => {
    const share = by / (faceStarts[f + 1]! - faceStarts[f]!);
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++) add(into, corners[k]!, share);
  };
  const rows: Map<number, number>[] = rule === "smooth" ? vertexRows(net, edges, faceRow) : ownRows(vertexCount);
  for (let e = 0; e < edgeCount; e++) {
    const row = new Map<number, number>();
    const inner = rule === "smooth" && edges.faces[e]!.length === 2;
    add(row, edges.ends[2 * e]!, inner ? 0.25 : 0.5);
    add(row, edges.ends[2 * e + 1]!, inner ? 0.25 : 0.5);
    if (inner) for (const f of edges.faces[e]!) faceRow(f, 0.25, row);
    rows.push(row);
  }
  for (let f = 0; f < faceCount; f++) {
    const row = new Map<number, number>();
    faceRow(f, 1, row);
    rows.push(row);
  }
  const quads = new Uint32Array(4 * corners.length);
  const faceOf = new Uint32Array(corners.length);
  for (let f = 0, q = 0; f < faceCount; f++)
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++, q++) {
      const before = k > faceStarts[f]! ? k - 1 : faceStarts[f + 1]! - 1;
      quads.set(
        [
          corners[k]!,
          vertexCount + edges.ofCorner[k]!,
          vertexCount + edgeCount + f,
          vertexCount + edges.ofCorner[before]!,
        ],
        4 * q,
      );
      faceOf[q] = f;
    }
  return {
    vertexCount: rows.length,
    corners: quads,
    faceStarts: Uint32Array.from({ length: corners.length + 1 }, (_, q) => 4 * q),
    stencils: packed(rows),
    faceOf,
  };
}

const add = (row: Map<number, number>, vertex: number, by: number): void =>
  void row.set(vertex, (row.get(vertex) ?? 0) + by);
const ownRows = (count: number): Map<number, number>[] => Array.from({ length: count }, (_, v) => new Map([[v, 1]]));

/** Rows of the coarse vertices: (faces' means + twice the edges' middles + (n - 3) times itself) / n, n its faces. */
function vertexRows(
  { vertexCount, corners, faceStarts }: Net,
  { ends, faces, ofCorner }: Edges,
  faceRow: (face: number, by: number, into: Map<number, number>) => void,
): Map<number, number>[] {
  const facesAt: number[][] = Array.from({ length: vertexCount }, () => []);
  const edgesAt: Set<number>[] = Array.from({ length: vertexCount }, () => new Set());
  for (let f = 0; f + 1 < faceStarts.length; f++)
    for (let k = faceStarts[f]!; k < faceStarts[f + 1]!; k++) facesAt[corners[k]!]!.push(f);
  for (const e of new Set(ofCorner)) for (const v of [ends[2 * e]!, ends[2 * e + 1]!]) edgesAt[v]!.add(e);
  const other = (e: number, v: number): number => (ends[2 * e] === v ? ends[2 * e + 1]! : ends[2 * e]!);
  return facesAt.map((around, v) => {
    const row = new Map<number, number>();
    const border = [...edgesAt[v]!].filter((e) => faces[e]!.length !== 2);
    const n = around.length;
    if (n === 0 || (border.length > 0 && border.length !== 2)) return row.set(v, 1);
    if (border.length === 2) {
      add(row, v, 0.75);
      for (const e of border) add(row, other(e, v), 0.125);
      return row;
    }
    for (const f of around) faceRow(f, 1 / (n * n), row);
    for (const e of edgesAt[v]!) {
      add(row, v, 1 / (n * n));
      add(row, other(e, v), 1 / (n * n));
    }
    add(row, v, (n - 3) / n);
    return row;
  });
}

function packed(rows: readonly ReadonlyMap<number, number>[]): Stencils {
  const start = new Uint32Array(rows.length + 1);
  rows.forEach((row, r) => (start[r + 1] = start[r]! + row.size));
  const vertices = new Uint32Array(start[rows.length]!);
  const weights = new Float64Array(vertices.length);
  rows.forEach((row, r) => {
    let i = start[r]!;
    for (const [v, w] of row) {
      vertices[i] = v;
      weights[i++] = w;
    }
  });
  return { start, vertices, weights };
}

/** Rows of two subdivisions, one after the other, as means of the coarsest vertices. */
export function composed(first: Stencils, second: Stencils): Stencils {
  const rows = Array.from({ length: second.start.length - 1 }, (_, r) => {
    const row = new Map<number, number>();
    for (let i = second.start[r]!; i < second.start[r + 1]!; i++) {
      const m = second.vertices[i]!;
      for (let j = first.start[m]!; j < first.start[m + 1]!; j++)
        add(row, first.vertices[j]!, second.weights[i]! * first.weights[j]!);
    }
    return row;
  });
  return packed(rows);
}

/** A net subdivided several times, its rows as means of the coarse vertices. @param levels 1 or more. */
export function subdivideTimes(net: Net, levels: number, rule: SubdivisionRule = "smooth"): FineNet {
  let fine = subdivide(net, rule);
  for (let level = 1; level < levels; level++) {
    const next = subdivide(fine, rule);
    const { faceOf } = fine;
    fine = { ...next, stencils: composed(fine.stencils, next.stencils), faceOf: next.faceOf.map((f) => faceOf[f]!) };
  }
  return fine;
}

/** Places of the fine vertices. @param coarse 3 x the net's vertices. @param out 3 x the fine net's, written anew. */
export function fineRows<T extends Float32Array | Float64Array>(
  { start, vertices, weights }: Stencils,
  coarse: ArrayLike<number>,
  out: T,
): T {
  for (let r = 0; r + 1 < start.length; r++) {
    let [x, y, z] = [0, 0, 0];
    for (let i = start[r]!; i < start[r + 1]!; i++) {
      const [v, w] = [3 * vertices[i]!, weights[i]!];
      x += w * coarse[v]!;
      y += w * coarse[v + 1]!;
      z += w * coarse[v + 2]!;
    }
    out[3 * r] = x;
    out[3 * r + 1] = y;
    out[3 * r + 2] = z;
  }
  return out;
}

/** Rounds of the solve, at most; a share of the first error at which it is done. */
const ROUNDS = 80;
const DONE = 1e-7;

/**
 * The movement of the coarse vertices whose subdivision comes nearest to a movement of the fine ones (least squares,
 * conjugate gradients on the normal equations). Coarse vertices that no moved fine vertex hangs on stay.
 * @param fine 3 x rows, metres. @returns 3 x coarse vertices, metres.
 */
export function coarseMovement(stencils: Stencils, fine: Float64Array, coarseCount: number): Float64Array {
  const { start, vertices, weights } = stencils;
  const free = new Uint8Array(coarseCount);
  for (let r = 0; r + 1 < start.length; r++)
    if (fine[3 * r] !== 0 || fine[3 * r + 1] !== 0 || fine[3 * r + 2] !== 0)
      for (let i = start[r]!; i < start[r + 1]!; i++) if (weights[i]! > 0.05) free[vertices[i]!] = 1;
  const back = (rows: Float64Array, out: Float64Array): Float64Array => {
    out.fill(0);
    for (let r = 0; r + 1 < start.length; r++)
      for (let i = start[r]!; i < start[r + 1]!; i++) {
        const v = vertices[i]!;
        if (free[v]) for (let c = 0; c < 3; c++) out[3 * v + c]! += weights[i]! * rows[3 * r + c]!;
      }
    return out;
  };
  const dot = (a: Float64Array, b: Float64Array): number => a.reduce((s, x, i) => s + x * b[i]!, 0);
  const x = new Float64Array(3 * coarseCount);
  const residual = back(fine, new Float64Array(x.length));
  const way = residual.slice();
  const rows = new Float64Array(fine.length);
  const image = new Float64Array(x.length);
  let size = dot(residual, residual);
  const enough = DONE * DONE * size;
  for (let round = 0; round < ROUNDS && size > enough; round++) {
    back(fineRows(stencils, way, rows), image);
    const step = size / dot(way, image);
    for (let i = 0; i < x.length; i++) {
      x[i]! += step * way[i]!;
      residual[i]! -= step * image[i]!;
    }
    const next = dot(residual, residual);
    for (let i = 0; i < x.length; i++) way[i] = residual[i]! + (next / size) * way[i]!;
    size = next;
  }
  return x;
}
