import { faceCountOf, type Part } from "../../model/character";
import { placesOf } from "../../model/places";
import { finding, type Check } from "../finding";

/** Faces that stand on the same corners as one before them; seams are looked through. */
export function facesTwice(part: Part): number[] {
  const place = placesOf(part.positions);
  const seen = new Set<string>();
  return Array.from({ length: faceCountOf(part) }, (_, f) => f).filter((f) => {
    const key = Array.from(part.corners.subarray(part.faceStarts[f]!, part.faceStarts[f + 1]!), (v) => place[v]!)
      .sort((a, b) => a - b)
      .join();
    const twice = seen.has(key);
    seen.add(key);
    return twice;
  });
}

export const meshDoubled: Check = {
  id: "mesh.doubled",
  title: "Faces twice in one place",
  unit: "faces",
  source: "our own choice",
  run: (character) =>
    character.parts.flatMap((part) => {
      const vertices = facesTwice(part).map((f) => part.corners[part.faceStarts[f]!]!);
      return vertices.length
        ? [
            finding({
              check: "mesh.doubled",
              severity: "error",
              part: part.name,
              vertices,
              value: vertices.length,
              unit: "faces",
              limit: 0,
              message:
                `${part.name} has ${vertices.length} face${vertices.length > 1 ? "s" : ""} ` +
                "lying on another face; delete the copies.",
            }),
          ]
        : [];
    }),
};
