import { finding, type Check } from "../finding";

/** Parts without a skin where the figure has one: they stay behind when it moves. */
export const weightsUnbound: Check = {
  id: "weights.unbound",
  title: "Parts bound to no joint",
  unit: "vertices",
  source: "common practice, no source: 0",
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
};
