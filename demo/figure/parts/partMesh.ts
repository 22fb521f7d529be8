import type { Vec3 } from "../../../core/math/vec3";
import { QuadMesh } from "../../modelling/quadMesh";

/** A separate part in head units; the tag of a vertex is its colour (linear RGB). */
export type PartMesh = QuadMesh<Vec3>;
export const newPart = (): PartMesh => new QuadMesh<Vec3>();
/** 1 for the left side, -1 for the right. */
export type PartSide = 1 | -1;

/** Quads between rings of the same length that were added one after the other. */
export function skinRings(part: PartMesh, first: number, rings: number, perRing: number, { flip = false } = {}): void {
  const ring = (r: number): number[] => Array.from({ length: perRing }, (_, i) => first + r * perRing + i);
  for (let r = 0; r + 1 < rings; r++) part.bridge(ring(r), ring(r + 1), { flip });
}
/** Closes the first and the last of such rings. */
export function capEnds(part: PartMesh, first: number, rings: number, perRing: number, { flip = false } = {}): void {
  const ring = (r: number): number[] => Array.from({ length: perRing }, (_, i) => first + r * perRing + i);
  part.capRing(ring(0), { flip });
  part.capRing(ring(rings - 1), { flip: !flip });
}
