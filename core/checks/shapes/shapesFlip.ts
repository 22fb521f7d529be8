import type { Part, ShapeDelta } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Check, type Finding } from "../finding";

const COLLAPSED = 0.05;

/** Faces that a shape at full turns by more than 90 degrees or shrinks to under 5 % of their area. */
export const shapesFlip: Check = {
  id: "shapes.flip",
  title: "Faces turned or collapsed by a shape",
  unit: "faces",
  source: "our own choice",
  run: (character) => {
    const out: Finding[] = [];
    for (const shape of shapesAsSeen(character))
      for (const delta of shape.deltas) {
        const part = character.parts[delta.part]!;
        const bad = facesTurnedBy(part, delta);
        const vertices = bad.map((f) => part.corners[part.faceStarts[f]!]!);
        if (bad.length) out.push(finding({ check: "shapes.flip", severity: "warn", shape: shape.name, part: part.name, vertices, value: bad.length, unit: "faces", limit: 0, message: `${shape.label} at full turns ${bad.length} face${bad.length > 1 ? "s" : ""} of ${part.name} inside out or flattens them; smooth the shape there.` }));
      }
    return out;
  },
};

/** Faces that a movement at full turns over or collapses, by their vector area (Newell). */
export function facesTurnedBy(part: Part, delta: ShapeDelta): number[] {
  const { moved, touched } = movedBy(part, delta);
  const { positions: rest, corners, faceStarts: starts } = part;
  const turned: number[] = [];
  const area = (P: Float32Array, s: number, e: number): [number, number, number] => {
    let x = 0;
    let y = 0;
    let z = 0;
    for (let k = s; k < e; k++) {
      const a = 3 * corners[k]!;
      const b = 3 * corners[k + 1 < e ? k + 1 : s]!;
      x += (P[a + 1]! - P[b + 1]!) * (P[a + 2]! + P[b + 2]!);
      y += (P[a + 2]! - P[b + 2]!) * (P[a]! + P[b]!);
      z += (P[a]! - P[b]!) * (P[a + 1]! + P[b + 1]!);
    }
    return [x, y, z];
  };
  for (let f = 0; f + 1 < starts.length; f++) {
    const s = starts[f]!;
    const e = starts[f + 1]!;
    let any = false;
    for (let k = s; k < e && !any; k++) any = touched[corners[k]!] === 1;
    if (!any) continue;
    const a = area(rest, s, e);
    const b = area(moved, s, e);
    const la = Math.hypot(...a);
    if (la < 1e-12) continue;
    if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < 0 || Math.hypot(...b) < COLLAPSED * la) turned.push(f);
  }
  return turned;
}
