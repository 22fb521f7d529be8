import { faceCountOf } from "../../model/character";
import { finding, type Check } from "../finding";

const SMALLEST_AREA = 1e-12;

/** Faces with no area or with a corner used twice. */
export const meshDegenerate: Check = {
  id: "mesh.degenerate",
  title: "Faces without area",
  unit: "faces",
  source: "our own choice: area under 1e-12 m2",
  run: (character) =>
    character.parts.flatMap((part) => {
      const vertices: number[] = [];
      let count = 0;
      const P = part.positions;
      for (let f = 0; f < faceCountOf(part); f++) {
        const face = part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!);
        const area = [0, 0, 0];
        const o = 3 * face[0]!;
        for (let k = 1; k + 1 < face.length; k++) {
          const u = [0, 1, 2].map((i) => P[3 * face[k]! + i]! - P[o + i]!);
          const v = [0, 1, 2].map((i) => P[3 * face[k + 1]! + i]! - P[o + i]!);
          area[0]! += (u[1]! * v[2]! - u[2]! * v[1]!) / 2;
          area[1]! += (u[2]! * v[0]! - u[0]! * v[2]!) / 2;
          area[2]! += (u[0]! * v[1]! - u[1]! * v[0]!) / 2;
        }
        if (Math.hypot(...area) < SMALLEST_AREA || new Set(face).size < face.length) {
          count++;
          vertices.push(face[0]!);
        }
      }
      return count ? [finding({ check: "mesh.degenerate", severity: "error", part: part.name, vertices, value: count, unit: "faces", limit: 0, message: `${part.name} has ${count} face${count > 1 ? "s" : ""} without area; delete or merge them.` })] : [];
    }),
};
