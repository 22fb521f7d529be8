import { mendFaces } from "../../edits/mend/mendFaces";
import { check } from "../check";
import { finding } from "../finding";
import { nonManifoldOf } from "../../surface/nonManifold";

/** Edges with more than two faces, and vertices whose faces do not make one disc or half disc. */
export const meshNonManifold = check({
  id: "mesh.non-manifold",
  title: "Edges and vertices that are not manifold",
  station: "intake",
  unit: "places",
  measures: "edges with more than two faces, vertices where separate surfaces touch",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "common practice, no source",
  mend: {
    says: (f) =>
      `Takes off faces of ${f.part} that hang on an edge by one ` +
      "side only, and parts the surface where whole pieces meet.",
    apply: (c, f) => mendFaces(c, f.part!, "non-manifold"),
  },
  run: (character) =>
    character.parts.flatMap((part) => {
      const { edgeCount, atEdges: bad, pinched } = nonManifoldOf(part);
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
});
