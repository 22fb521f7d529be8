import type { Character, Material, Part, PartKind } from "~core/model/character";

/** How surfaces are drawn, whatever draws them. */

/** Smoother than this no lamp of the room shows as more than a point. */
export const LEAST_ROUGH = 0.3;
/** Fainter than this nothing of a blended surface is drawn. */
export const FAINT = 0.02;
/** What is denser than this of a blended texture is solid: it is drawn first and hides what lies behind it. */
export const SOLID = 0.95;

/** What lies over the rest is drawn after it, so that what is blended shows what is under it. */
const DRAWN_LATE: Partial<Record<PartKind, number>> = { lash: 0.2, brow: 0.2, garment: 0.3, hair: 0.4 };
/** The order of a part among the others, lowest first. */
export const orderOf = ({ kind }: Part): number => DRAWN_LATE[kind] ?? 0;
/** Soft edges of blended textures come just after the solid parts of the same. */
export const FRINGE_AFTER = 0.01;

/** Whether a material is blended by its texture: it is drawn in two passes, solid parts and then their soft fringe. */
export const hasFringe = (of: Material): boolean =>
  of.opacity === "blend" && of.texture !== null && of.baseColor[3] === 1;

const COVERED = /^covered\b/i;
/** Whether faces of a material are left out: those named as covered, while garments are on. */
export const isCovered = (name: string, { parts }: Character, dressed: boolean): boolean =>
  dressed && COVERED.test(name) && parts.some((part) => part.kind === "garment");

/** Corners of a part's triangles, by face group; faces are fans, so a face of n corners is n - 2 triangles. */
export function cornerRuns(part: Part): { start: number; count: number }[] {
  const trianglesBefore = (face: number): number => part.faceStarts[face]! - 2 * face;
  return part.groups.map((g) => ({
    start: 3 * trianglesBefore(g.faceStart),
    count: 3 * (trianglesBefore(g.faceStart + g.faceCount) - trianglesBefore(g.faceStart)),
  }));
}
