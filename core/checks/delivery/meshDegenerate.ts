import { faceArea } from "../../measure/faceArea";
import { faceCountOf } from "../../model/character";
import { finding, type Check } from "../finding";

const SMALLEST_AREA = 1e-12;

/** A face that uses a corner twice or has no area. */
export const isDegenerate = (P: Float32Array, corners: ArrayLike<number>): boolean =>
  faceArea(P, corners) < SMALLEST_AREA || new Set(Array.from(corners)).size < corners.length;

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
      for (let f = 0; f < faceCountOf(part); f++) {
        const face = part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!);
        if (isDegenerate(part.positions, face)) {
          count++;
          vertices.push(face[0]!);
        }
      }
      return count
        ? [
            finding({
              check: "mesh.degenerate",
              severity: "error",
              part: part.name,
              vertices,
              value: count,
              unit: "faces",
              limit: 0,
              message: `${part.name} has ${count} face${count > 1 ? "s" : ""} without area; delete or merge them.`,
            }),
          ]
        : [];
    }),
};
