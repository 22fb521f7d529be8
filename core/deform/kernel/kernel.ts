// Deforming for what is drawn, in AssemblyScript: compiled to WebAssembly with 128-bit lanes (npm run kernel).
// Numbers are single precision. Places and normals are rows of three; a store of four lanes writes the next row's first
// number too, which that row overwrites, so every array ends in padding of one number.

/**
 * Linear blend skinning: out = sum of w (M p) over each vertex's influences.
 * @param rest count rows of three.
 * @param start first influence of each vertex, count + 1 numbers of 32 bits.
 * @param joints one number of 16 bits an influence.
 * @param weights one an influence.
 * @param matrices 16 numbers a joint: three columns and the translation, four lanes each.
 */
export function skinLinear(
  rest: usize,
  out: usize,
  count: i32,
  start: usize,
  joints: usize,
  weights: usize,
  matrices: usize,
): void {
  const last = weights;
  for (let v = 0; v < count; v++) {
    start += 4;
    const end = last + ((<usize>load<u32>(start)) << 2);
    const x = v128.load_splat<f32>(rest);
    const y = v128.load_splat<f32>(rest, 4);
    const z = v128.load_splat<f32>(rest, 8);
    let sum = f32x4.splat(0);
    while (weights < end) {
      const m = matrices + ((<usize>load<u16>(joints)) << 6);
      const a = f32x4.add(f32x4.mul(v128.load(m), x), f32x4.mul(v128.load(m, 16), y));
      const b = f32x4.add(f32x4.mul(v128.load(m, 32), z), v128.load(m, 48));
      sum = f32x4.add(sum, f32x4.mul(f32x4.add(a, b), v128.load_splat<f32>(weights)));
      weights += 4;
      joints += 2;
    }
    v128.store(out, sum);
    rest += 12;
    out += 12;
  }
}

/** Next lanes of three: y z x w. */
function turned(a: v128): v128 {
  return v128.shuffle<f32>(a, a, 1, 2, 0, 3);
}

function cross(a: v128, b: v128): v128 {
  return turned(f32x4.sub(f32x4.mul(a, turned(b)), f32x4.mul(turned(a), b)));
}

/** Sum of the first three lanes in all lanes; the fourth must be 0. */
function summed(a: v128): v128 {
  const b = f32x4.add(a, v128.shuffle<f32>(a, a, 2, 3, 0, 1));
  return f32x4.add(b, v128.shuffle<f32>(b, b, 1, 0, 3, 2));
}

/**
 * Dual quaternion blending, signs made to agree with the first influence; arguments as for skinLinear.
 * @param duals 8 numbers a joint: real part xyzw, dual part xyzw.
 */
export function skinDual(
  rest: usize,
  out: usize,
  count: i32,
  start: usize,
  joints: usize,
  weights: usize,
  duals: usize,
): void {
  const none = f32x4.splat(0);
  const last = weights;
  for (let v = 0; v < count; v++) {
    start += 4;
    const end = last + ((<usize>load<u32>(start)) << 2);
    let real = none;
    let dual = none;
    let first = none;
    let begun = false;
    while (weights < end) {
      const q = duals + ((<usize>load<u16>(joints)) << 5);
      const r = v128.load(q);
      let w = v128.load_splat<f32>(weights);
      if (!begun) {
        first = r;
        begun = true;
      } else if (f32x4.extract_lane(summed(f32x4.mul(r, first)), 0) < 0) w = f32x4.neg(w);
      real = f32x4.add(real, f32x4.mul(r, w));
      dual = f32x4.add(dual, f32x4.mul(v128.load(q, 16), w));
      weights += 4;
      joints += 2;
    }
    const norm = f32x4.extract_lane(summed(f32x4.mul(real, real)), 0);
    if (norm > 1e-18) {
      const s = f32x4.splat(<f32>1 / sqrt<f32>(norm));
      real = f32x4.mul(real, s);
      dual = f32x4.mul(dual, s);
    }
    const w = v128.shuffle<f32>(real, real, 3, 3, 3, 3);
    const e = v128.shuffle<f32>(dual, dual, 3, 3, 3, 3);
    const p = v128.load(rest);
    const t = f32x4.add(cross(real, p), f32x4.mul(w, p));
    const moved = f32x4.add(f32x4.sub(f32x4.mul(w, dual), f32x4.mul(e, real)), cross(real, dual));
    const turnedPart = f32x4.add(cross(real, t), moved);
    v128.store(out, f32x4.add(p, f32x4.add(turnedPart, turnedPart)));
    rest += 12;
    out += 12;
  }
}

/** Adds a shape: rows[vertices[i]] += weight * deltas[i]. */
export function addShape(rows: usize, vertices: usize, deltas: usize, count: i32, weight: f32): void {
  const w = f32x4.splat(weight);
  for (let i = 0; i < count; i++) {
    const row = rows + 12 * <usize>load<u32>(vertices);
    const moved = f32x4.add(v128.load(row), f32x4.mul(v128.load(deltas), w));
    // not all four lanes: a store that the next row's load overlaps in part would have to be waited for
    v128.store64_lane(row, moved, 0);
    v128.store32_lane(row, moved, 2, 8);
    vertices += 4;
    deltas += 12;
  }
}

/** Copies rows of three: out[i] = rows[from[i]]. */
export function copyRows(rows: usize, from: usize, count: i32, out: usize): void {
  for (let i = 0; i < count; i++) {
    v128.store(out, v128.load(rows + 12 * <usize>load<u32>(from)));
    from += 4;
    out += 12;
  }
}

function at(rows: usize, index: usize): v128 {
  return v128.load(rows + 12 * <usize>load<u32>(index));
}

function addTo(sums: usize, index: usize, n: v128): void {
  const row = sums + ((<usize>load<u32>(index)) << 4);
  v128.store(row, f32x4.add(v128.load(row), n));
}

/**
 * Smooth unit normals: area-weighted mean of the faces round each place, a quad by the cross product of its diagonals.
 * @param quads four numbers of 32 bits each, all corners exchanged for the vertex that stands for their place.
 * @param placeOf the vertex that stands for each vertex's place; 0 when each stands for itself.
 * @param sums room for four numbers a vertex.
 */
export function computeNormals(
  rows: usize,
  quads: usize,
  quadCount: i32,
  triangles: usize,
  triangleCount: i32,
  placeOf: usize,
  count: i32,
  sums: usize,
  out: usize,
): void {
  memory.fill(sums, 0, (<usize>count) << 4);
  const three = i32x4(-1, -1, -1, 0);
  for (let q = 0; q < quadCount; q++) {
    const a = at(rows, quads);
    const b = at(rows, quads + 4);
    const n = v128.and(cross(f32x4.sub(at(rows, quads + 8), a), f32x4.sub(at(rows, quads + 12), b)), three);
    addTo(sums, quads, n);
    addTo(sums, quads + 4, n);
    addTo(sums, quads + 8, n);
    addTo(sums, quads + 12, n);
    quads += 16;
  }
  for (let t = 0; t < triangleCount; t++) {
    const a = at(rows, triangles);
    const n = v128.and(cross(f32x4.sub(at(rows, triangles + 4), a), f32x4.sub(at(rows, triangles + 8), a)), three);
    addTo(sums, triangles, n);
    addTo(sums, triangles + 4, n);
    addTo(sums, triangles + 8, n);
    triangles += 12;
  }
  for (let v = 0; v < count; v++) {
    const from = placeOf ? <usize>load<u32>(placeOf + ((<usize>v) << 2)) : <usize>v;
    const n = v128.load(sums + (from << 4));
    const l = f32x4.extract_lane(summed(f32x4.mul(n, n)), 0);
    v128.store(out, l > 0 ? f32x4.mul(n, f32x4.splat(<f32>1 / sqrt<f32>(l))) : n);
    out += 12;
  }
}
