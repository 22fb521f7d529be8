import { triangleCountOf } from "../../model/character";
import { finding, type Check } from "../finding";

/** Triangles of the whole character against the profile's budget. */
export const meshBudget: Check = {
  id: "mesh.budget",
  title: "Triangle budget",
  unit: "triangles",
  source: "realtime: our own choice; crowd: common practice, no source",
  run: (character, { profile }) => {
    const limit = profile.limits["mesh.budget"];
    const count = character.parts.reduce((n, p) => n + triangleCountOf(p), 0);
    if (limit === null || count <= limit) return [];
    return [
      finding({
        check: "mesh.budget",
        severity: "warn",
        value: count,
        unit: "triangles",
        limit,
        message:
          `The character has ${count} triangles; the ${profile.name} ` +
          `profile allows ${limit}. Reduce the heaviest parts.`,
      }),
    ];
  },
};
