import { faceCountOf } from "../../model/character";
import { placesOf } from "../../model/places";
import { finding, type Check } from "../finding";

/** Faces that stand on the same corners as another face; seams are looked through. */
export const meshDoubled: Check = {
  id: "mesh.doubled",
  title: "Faces twice in one place",
  unit: "faces",
  source: "our own choice",
  run: (character) =>
    character.parts.flatMap((part) => {
      const place = placesOf(part.positions);
      const seen = new Set<string>();
      const vertices: number[] = [];
      for (let f = 0; f < faceCountOf(part); f++) {
        const corners = part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!);
        const key = Array.from(corners, (v) => place[v]!).sort((a, b) => a - b).join();
        if (seen.has(key)) vertices.push(corners[0]!);
        seen.add(key);
      }
      return vertices.length ? [finding({ check: "mesh.doubled", severity: "error", part: part.name, vertices, value: vertices.length, unit: "faces", limit: 0, message: `${part.name} has ${vertices.length} face${vertices.length > 1 ? "s" : ""} lying on another face; delete the copies.` })] : [];
    }),
};
