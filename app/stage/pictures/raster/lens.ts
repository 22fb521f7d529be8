import { cross, dot, normalize, sub, type Vec3 } from "~core/math/vec3";

/** A pinhole camera and the picture it makes: pixels from the upper left, rows downward. */
export interface Lens {
  /** Metres, character space. */
  readonly at: Vec3;
  readonly right: Vec3;
  readonly up: Vec3;
  readonly forward: Vec3;
  /** Pixels for a unit of the tangent of the angle off the axis. */
  readonly scale: number;
  readonly width: number;
  readonly height: number;
}

/** What is nearer than this is not drawn, metres. */
const NEAREST = 0.01;
/** Corners stand on a grid of this fraction of a pixel, so that what two triangles share is exactly the same line. */
const GRID = 256;

/** @param fieldOfView of the height of the picture, degrees. */
export function lensOf(at: Vec3, target: Vec3, fieldOfView: number, width: number, height: number): Lens {
  const forward = normalize(sub(target, at));
  const right = normalize(cross(forward, Math.abs(forward[1]) > 0.999 ? [0, 0, -1] : [0, 1, 0]));
  const up = cross(right, forward);
  return { at, right, up, forward, scale: height / 2 / Math.tan((fieldOfView * Math.PI) / 360), width, height };
}

/**
 * Where points fall in the picture. @param points 3 a point, metres, character space. @param out 3 a point: column and
 * row in pixels, and one over the distance along the axis, 0 where that is nearer than can be drawn.
 */
export function project(points: Float32Array, lens: Lens, out: Float32Array): void {
  const [rx, ry, rz] = lens.right;
  const [ux, uy, uz] = lens.up;
  const [fx, fy, fz] = lens.forward;
  const [ox, oy, oz] = [dot(lens.right, lens.at), dot(lens.up, lens.at), dot(lens.forward, lens.at)];
  const { scale } = lens;
  const middleX = lens.width / 2;
  const middleY = lens.height / 2;
  for (let i = 0; i < points.length; i += 3) {
    const x = points[i]!;
    const y = points[i + 1]!;
    const z = points[i + 2]!;
    const ahead = fx * x + fy * y + fz * z - oz;
    if (ahead < NEAREST) {
      out[i + 2] = 0;
      continue;
    }
    const near = 1 / ahead;
    const column = middleX + scale * near * (rx * x + ry * y + rz * z - ox);
    const row = middleY - scale * near * (ux * x + uy * y + uz * z - oy);
    out[i] = Math.round(column * GRID) / GRID;
    out[i + 1] = Math.round(row * GRID) / GRID;
    out[i + 2] = near;
  }
}
