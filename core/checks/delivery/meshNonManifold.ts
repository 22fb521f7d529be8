import { faceCountOf } from "../../model/character";
import { finding, type Check } from "../finding";
import { meshEdges } from "../meshEdges";

/** Edges with more than two faces, and vertices whose faces do not make one disc or half disc. */
export const meshNonManifold: Check = {
  id: "mesh.non-manifold",
  title: "Edges and vertices that are not manifold",
  unit: "places",
  source: "common practice, no source",
  run: (character) =>
    character.parts.flatMap((part) => {
      const { place, facesOfEdge } = meshEdges(part);
      const n = place.length;
      const bad = new Set<number>();
      let edgeCount = 0;
      for (const [key, faces] of facesOfEdge)
        if (faces.length > 2) {
          edgeCount++;
          bad.add(Math.floor(key / n));
          bad.add(key % n);
        }
      const fans = vertexFans(part.corners, part.faceStarts, faceCountOf(part), place);
      const pinched = [...fans].filter(([v, count]) => count > 1 && !bad.has(v)).map(([v]) => v);
      if (edgeCount + pinched.length === 0) return [];
      const what = [
        edgeCount && `${edgeCount} edge${edgeCount > 1 ? "s" : ""} with more than two faces`,
        pinched.length &&
          `${pinched.length} vert${pinched.length > 1 ? "ices where separate surfaces touch" : "ex where separate surfaces touch"}`,
      ]
        .filter(Boolean)
        .join(" and ");
      return [
        finding({
          check: "mesh.non-manifold",
          severity: "error",
          part: part.name,
          vertices: [...bad, ...pinched].sort((a, b) => a - b),
          value: edgeCount + pinched.length,
          unit: "places",
          limit: 0,
          message: `${part.name} has ${what}; split the surface there.`,
        }),
      ];
    }),
};

/** Number of separate fans of faces at each place. */
function vertexFans(
  corners: Uint32Array,
  starts: Uint32Array,
  faceCount: number,
  place: Uint32Array,
): Map<number, number> {
  const spokes = new Map<number, [number, number][]>();
  for (let f = 0; f < faceCount; f++) {
    const s = starts[f]!;
    const size = starts[f + 1]! - s;
    for (let k = 0; k < size; k++) {
      const v = place[corners[s + k]!]!;
      const list = spokes.get(v) ?? [];
      list.push([place[corners[s + ((k + size - 1) % size)]!]!, place[corners[s + ((k + 1) % size)]!]!]);
      spokes.set(v, list);
    }
  }
  const out = new Map<number, number>();
  for (const [v, list] of spokes) {
    const root = new Map<number, number>();
    const find = (x: number): number => {
      for (let up = root.get(x) ?? x; up !== x; up = root.get(x) ?? x) {
        const above = root.get(up) ?? up;
        root.set(x, above); // shortens the way for the next one
        x = above;
      }
      return x;
    };
    for (const [a, b] of list) {
      const ra = find(a);
      const rb = find(b);
      root.set(ra, rb);
      root.set(rb, rb);
    }
    out.set(v, new Set(list.flat().map(find)).size);
  }
  return out;
}
