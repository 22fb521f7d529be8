import { bindUnbound } from "../../edits/mend/mendSkeleton";
import { check } from "../check";
import { finding } from "../finding";

/** Parts without a skin where the figure has one: they stay behind when it moves. */
export const weightsUnbound = check({
  id: "weights.unbound",
  title: "Parts bound to no joint",
  station: "skeleton",
  unit: "vertices",
  measures: "parts without a skin on a figure whose body has one",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "common practice, no source: 0",
  mend: {
    says: (f) =>
      `Binds ${f.part}: clothes and what sits on the skin as the skin ` +
      "next to them, hair to the head, eyes and teeth to their joint.",
    apply: (c, f) => bindUnbound(c, f.part!),
  },
  run: (character) => {
    if (!character.skeleton || !character.parts.some((p) => p.kind === "body" && p.skin)) return [];
    return character.parts.flatMap((part) =>
      part.skin || part.kind === "other"
        ? []
        : [
            finding({
              check: "weights.unbound",
              severity: "error",
              part: part.name,
              value: part.positions.length / 3,
              unit: "vertices",
              limit: 0,
              message: `${part.name} is bound to no joint: it stays where it is when the figure moves. Bind it.`,
            }),
          ],
    );
  },
});
