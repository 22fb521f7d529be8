import { check } from "../check";
import { whileMoved } from "../../model/movedBy";
import { vertexCountOf, type Character } from "../../model/character";
import { finding, type Finding } from "../finding";
import { keptEdgeShare, SAME_ORDER_SHARE } from "../../formats/obj/readObj";

/** Shapes whose vertices are not in the base's order: most edges change length beyond a factor of three. */
export const shapesCount = check({
  id: "shapes.count",
  title: "Vertex count and order of shapes",
  station: "shapes",
  unit: "share",
  measures: "shapes whose vertices stand in another order: share of edges that keep their length within a factor of 3",
  severity: "error",
  limits: {},
  limitWords: "60 %",
  source: "our own choice: under 60 % of edges within a factor of 3",
  run: (character: Character) => {
    const out: Finding[] = [];
    for (const shape of character.shapes)
      for (const delta of shape.deltas) {
        const part = character.parts[delta.part]!;
        if (delta.vertices.length < 0.3 * vertexCountOf(part)) continue;
        const share = whileMoved(part, delta, (moved) =>
          keptEdgeShare(part.corners, part.faceStarts, part.positions, moved),
        );
        if (share < SAME_ORDER_SHARE)
          out.push(
            finding({
              check: "shapes.count",
              severity: "error",
              shape: shape.name,
              part: part.name,
              value: share,
              unit: "share",
              limit: SAME_ORDER_SHARE,
              message:
                `${shape.label} tears ${part.name}: its vertices are in another ` +
                "order than the base's. Export it again with vertex order kept.",
            }),
          );
      }
    return out;
  },
});
