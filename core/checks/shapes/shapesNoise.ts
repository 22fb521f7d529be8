import { denoiseShape } from "../../edits/mend/mendShapes";
import { amount, check } from "../check";
import { neighboursOf } from "../../model/neighbours";
import { percentile } from "../../measure/edgeStretch";
import { finding, type Finding } from "../finding";
import { noiseOf } from "../../measure/deltaNoise";

/** Shapes whose movement jumps from vertex to vertex. */
export const shapesNoise = check({
  id: "shapes.noise",
  title: "Noise in a shape",
  station: "shapes",
  unit: "mm",
  measures:
    "movement that alternates from vertex to vertex, 95th percentile; creases, where neighbours are " +
    "off the same way, do not count; where vertices stand wider than 8 mm, less by the square of the spacing",
  severity: "warn",
  limits: { "shapes.noise": amount(0.3) },
  source: "our own choice: 95th percentile, 0.3 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      `Smooths the movement of ${f.part} in ${f.shape} until it is within the limit; the surface's own detail stays.`,
    apply: (c, f) => denoiseShape(c, f.shape!, f.part!, f.limit!),
  },
  run: (character, { limits }) => {
    const limit = limits["shapes.noise"];
    if (limit === null) return [];
    const out: Finding[] = [];
    for (const shape of character.shapes)
      for (const delta of shape.deltas) {
        const part = character.parts[delta.part]!;
        if (part.kind !== "body") continue;
        const rough = noiseOf(delta, neighboursOf(part), part.positions);
        if (rough.length < 20) continue;
        const value = percentile(
          rough.map((r) => r.mm),
          0.95,
        );
        if (value <= limit) continue;
        rough.sort((a, b) => b.mm - a.mm || a.vertex - b.vertex);
        out.push(
          finding({
            check: "shapes.noise",
            severity: "warn",
            shape: shape.name,
            part: part.name,
            vertices: rough.map((r) => r.vertex),
            value,
            unit: "mm",
            limit,
            message:
              `${shape.label} is noisy: one vertex in twenty is ${value.toFixed(2)} ` +
              "mm off against its neighbours. Smooth the shape's movement.",
          }),
        );
      }
    return out;
  },
});
