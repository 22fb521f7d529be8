import { toLinear } from "~core/math/srgb";
import { normalize, type Vec3 } from "~core/math/vec3";
import { KEY, RIM, SKY, type Lamp } from "../../roomLight";
import type { Lens } from "./lens";
import { levelFor, sample, type PixelImage } from "./pixelImage";
import type { Surface } from "./surfaces";

/** What of a part's drawn vertices is shaded; 3 numbers a vertex. */
export interface Shown {
  /** Metres, character space. */
  readonly points: Float32Array;
  readonly normals: Float32Array;
  /** From `project`. */
  readonly screen: Float32Array;
}

const linear = (hex: string): Vec3 => {
  const of = (at: number): number => toLinear(parseInt(hex.slice(at, at + 2), 16) / 255);
  return [of(1), of(3), of(5)];
};
const lampOf = ({ color, strength, from }: Lamp): { readonly light: Vec3; readonly to: Vec3 } => {
  const [r, g, b] = linear(color);
  return { light: [strength * r, strength * g, strength * b], to: normalize(from) };
};
const LAMPS = [lampOf(KEY), lampOf(RIM)];
const ABOVE = linear(SKY.above).map((c) => SKY.strength * c) as unknown as Vec3;
const BELOW = linear(SKY.below).map((c) => SKY.strength * c) as unknown as Vec3;

/** Light that a surface that is no metal throws back when it is seen head on. glTF 2.0, appendix B. */
const DIELECTRIC = 0.04;
/** As smooth as a surface may be before its highlight is smaller than a pixel. */
const SMOOTHEST = 0.0525;

/** Reused from pixel to pixel. */
const texel = new Float64Array(4);
/** Shares of the three corners in a pixel, as seen in perspective. */
const share = new Float64Array(3);
const normal = new Float64Array(3);
const albedo = new Float64Array(3);
const glow = new Float64Array(3);
/** What the surface is at the pixel, beside its colour; `open` is how much of the sky it sees. */
const worn = { opacity: 1, roughness: 1, metalness: 0, open: 1 };
const sum = new Float64Array(3);

/** Shares of the corners at a pixel's centre, and how many of its areas the triangle has in the picture. */
function sharesAt(screen: Float32Array, a: number, b: number, c: number, column: number, row: number): number {
  const x = column + 0.5;
  const y = row + 0.5;
  const ax = screen[a]! - x;
  const ay = screen[a + 1]! - y;
  const bx = screen[b]! - x;
  const by = screen[b + 1]! - y;
  const cx = screen[c]! - x;
  const cy = screen[c + 1]! - y;
  const ea = cx * by - cy * bx;
  const eb = ax * cy - ay * cx;
  const ec = bx * ay - by * ax;
  const wa = ea * screen[a + 2]!;
  const wb = eb * screen[b + 2]!;
  const wc = ec * screen[c + 2]!;
  const one = 1 / (wa + wb + wc);
  share[0] = wa * one;
  share[1] = wb * one;
  share[2] = wc * one;
  return ea + eb + ec;
}

/** The texture coordinates of a pixel, and what one texture unit squared is of a pixel. */
const place = { u: 0, v: 0, units: 0 };
function placeAt(uvs: Float32Array, a: number, b: number, c: number, area: number): void {
  const i = (2 * a) / 3;
  const j = (2 * b) / 3;
  const k = (2 * c) / 3;
  const u0 = uvs[i]!;
  const v0 = uvs[i + 1]!;
  const du = uvs[j]! - u0;
  const dv = uvs[j + 1]! - v0;
  const eu = uvs[k]! - u0;
  const ev = uvs[k + 1]! - v0;
  place.u = u0 + share[1]! * du + share[2]! * eu;
  place.v = v0 + share[1]! * dv + share[2]! * ev;
  place.units = Math.abs((du * ev - dv * eu) / area);
}

function look(image: PixelImage, light: boolean): void {
  const { width, height } = image.levels[0]!;
  const level = levelFor(place.units * width * height, image.levels.length);
  sample(image, level, place.u, place.v, light, texel);
}

/**
 * Leans the normal by a normal map, in the frame that the texture's own axes span on the triangle (Mikkelsen,
 * Bump Mapping Unparametrized Surfaces on the GPU, 2010).
 */
function lean({ bumps, uvs }: Surface, { points }: Shown, a: number, b: number, c: number): void {
  const i = (2 * a) / 3;
  const j = (2 * b) / 3;
  const k = (2 * c) / 3;
  const nx = normal[0]!;
  const ny = normal[1]!;
  const nz = normal[2]!;
  const px = points[b]! - points[a]!;
  const py = points[b + 1]! - points[a + 1]!;
  const pz = points[b + 2]! - points[a + 2]!;
  const qx = points[c]! - points[a]!;
  const qy = points[c + 1]! - points[a + 1]!;
  const qz = points[c + 2]! - points[a + 2]!;
  const du = uvs![j]! - uvs![i]!;
  const dv = uvs![j + 1]! - uvs![i + 1]!;
  const eu = uvs![k]! - uvs![i]!;
  const ev = uvs![k + 1]! - uvs![i + 1]!;
  // q x n and n x p
  const ux = qy * nz - qz * ny;
  const uy = qz * nx - qx * nz;
  const uz = qx * ny - qy * nx;
  const vx = ny * pz - nz * py;
  const vy = nz * px - nx * pz;
  const vz = nx * py - ny * px;
  const tx = ux * du + vx * eu;
  const ty = uy * du + vy * eu;
  const tz = uz * du + vz * eu;
  const sx = ux * dv + vx * ev;
  const sy = uy * dv + vy * ev;
  const sz = uz * dv + vz * ev;
  const most = Math.max(tx * tx + ty * ty + tz * tz, sx * sx + sy * sy + sz * sz);
  if (!(most > 0)) return;
  const scale = 1 / Math.sqrt(most);
  const x = scale * bumps * (2 * texel[0]! - 1);
  // the second axis of the map runs up, that of the coordinates down
  const y = -scale * bumps * (2 * texel[1]! - 1);
  const z = 2 * texel[2]! - 1;
  setNormal(x * tx + y * sx + z * nx, x * ty + y * sy + z * ny, x * tz + y * sz + z * nz);
}

function setNormal(x: number, y: number, z: number): void {
  const one = 1 / Math.sqrt(x * x + y * y + z * z || 1);
  normal[0] = x * one;
  normal[1] = y * one;
  normal[2] = z * one;
}

const mix = (of: Float32Array, a: number, b: number, c: number): number =>
  share[0]! * of[a]! + share[1]! * of[b]! + share[2]! * of[c]!;

/** The opacity of a surface at a pixel. @param corner first corner of the triangle. */
export function opacityAt(of: Surface, { screen }: Shown, corner: number, column: number, row: number): number {
  if (!of.base) return of.opacity;
  const { triangles } = of;
  const a = 3 * triangles[corner]!;
  const b = 3 * triangles[corner + 1]!;
  const c = 3 * triangles[corner + 2]!;
  placeAt(of.uvs!, a, b, c, sharesAt(screen, a, b, c, column, row));
  look(of.base, true);
  return of.opacity * texel[3]!;
}

/**
 * The colour of a surface at a pixel under the lights of the room, as linear light: Lambert's law and the highlight of
 * glTF's metallic-roughness model (GGX; Khronos, glTF 2.0, appendix B). Light that falls in from all sides is a sky's.
 *
 * @param out red, green, blue, and the opacity.
 */
export function shadeAt(
  of: Surface,
  shown: Shown,
  lens: Lens,
  corner: number,
  column: number,
  row: number,
  out: Float64Array,
): void {
  const { triangles } = of;
  const a = 3 * triangles[corner]!;
  const b = 3 * triangles[corner + 1]!;
  const c = 3 * triangles[corner + 2]!;
  const area = sharesAt(shown.screen, a, b, c, column, row);
  const { normals, points } = shown;
  const side = area < 0 ? -1 : 1;
  setNormal(
    side * mix(normals, a, b, c),
    side * mix(normals, a + 1, b + 1, c + 1),
    side * mix(normals, a + 2, b + 2, c + 2),
  );
  wear(of);
  if (of.uvs) {
    placeAt(of.uvs, a, b, c, area);
    readTextures(of);
    if (of.normal) {
      look(of.normal, false);
      lean(of, shown, a, b, c);
    }
  }
  if (of.tint) for (let k = 0; k < 3; k++) albedo[k]! *= mix(of.tint, a + k, b + k, c + k);
  light(
    lens.at[0] - mix(points, a, b, c),
    lens.at[1] - mix(points, a + 1, b + 1, c + 1),
    lens.at[2] - mix(points, a + 2, b + 2, c + 2),
    Math.min(1, Math.max(SMOOTHEST, worn.roughness)),
    worn.metalness,
    worn.open,
  );
  for (let k = 0; k < 3; k++) out[k] = sum[k]! + glow[k]!;
  out[3] = worn.opacity;
}

/** What a surface has all over, into `worn`, `albedo` and `glow`. */
function wear({ color, glow: [red, green, blue], opacity, roughness, metalness }: Surface): void {
  albedo[0] = color[0];
  albedo[1] = color[1];
  albedo[2] = color[2];
  glow[0] = red;
  glow[1] = green;
  glow[2] = blue;
  worn.opacity = opacity;
  worn.roughness = roughness;
  worn.metalness = metalness;
  worn.open = 1;
}

/** Multiplies it by what its textures have at `place`; normals are leaned by themselves. */
function readTextures(of: Surface): void {
  if (of.base) {
    look(of.base, true);
    for (let k = 0; k < 3; k++) albedo[k]! *= texel[k]!;
    worn.opacity *= texel[3]!;
  }
  if (of.roughMetal) {
    look(of.roughMetal, false);
    worn.roughness *= texel[1]!;
    worn.metalness *= texel[2]!;
  }
  if (of.occlusion) {
    look(of.occlusion, false);
    worn.open = 1 + of.shade * (texel[0]! - 1);
  }
  if (of.emissive) {
    look(of.emissive, true);
    for (let k = 0; k < 3; k++) glow[k]! *= texel[k]!;
  }
}

/** Light that the surface with `albedo` and `normal` sends along a direction, into `sum`. */
function light(ex: number, ey: number, ez: number, roughness: number, metalness: number, open: number): void {
  const nx = normal[0]!;
  const ny = normal[1]!;
  const nz = normal[2]!;
  const one = 1 / Math.sqrt(ex * ex + ey * ey + ez * ez);
  const vx = ex * one;
  const vy = ey * one;
  const vz = ez * one;
  const alpha = roughness * roughness;
  const alpha2 = alpha * alpha;
  const toEye = Math.min(1, Math.max(1e-6, nx * vx + ny * vy + nz * vz));
  const up = 0.5 * ny + 0.5;
  const matt = (1 - metalness) / Math.PI;
  for (let k = 0; k < 3; k++)
    sum[k] = matt * (1 - DIELECTRIC) * open * albedo[k]! * (BELOW[k]! + up * (ABOVE[k]! - BELOW[k]!));
  for (let l = 0; l < LAMPS.length; l++) {
    const { light, to } = LAMPS[l]!;
    const falls = Math.min(1, nx * to[0] + ny * to[1] + nz * to[2]);
    if (falls <= 0) continue;
    const hx = to[0] + vx;
    const hy = to[1] + vy;
    const hz = to[2] + vz;
    const half = 1 / Math.sqrt(hx * hx + hy * hy + hz * hz);
    const toHalf = Math.min(1, Math.max(0, (nx * hx + ny * hy + nz * hz) * half));
    const across = Math.min(1, Math.max(0, (vx * hx + vy * hy + vz * hz) * half));
    const masked = falls * Math.sqrt(alpha2 + (1 - alpha2) * toEye * toEye);
    const shadowed = toEye * Math.sqrt(alpha2 + (1 - alpha2) * falls * falls);
    const spread = toHalf * toHalf * (alpha2 - 1) + 1;
    const gloss = (0.5 / Math.max(1e-6, masked + shadowed)) * (alpha2 / (Math.PI * spread * spread));
    const off = 1 - across;
    const edge = off * off * off * off * off;
    // what the surface throws back is not there to be scattered under it
    const passed = (1 - DIELECTRIC) * (1 - edge);
    for (let k = 0; k < 3; k++) {
      const head = DIELECTRIC + metalness * (albedo[k]! - DIELECTRIC);
      sum[k]! += light[k]! * falls * (matt * passed * albedo[k]! + gloss * (head + (1 - head) * edge));
    }
  }
}
