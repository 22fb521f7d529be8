import { amount, check } from "../check";
import { triangleCountOf } from "../../model/character";
import { finding } from "../finding";

/** Triangles of the whole character against the profile's budget. */
export const meshBudget = check({
  id: "mesh.budget",
  title: "Triangle budget",
  station: "intake",
  unit: "triangles",
  measures: "triangles of the whole character",
  severity: "warn",
  limits: { "mesh.budget": amount({ film: null, realtime: 40_000, crowd: 10_000 }) },
  source: "realtime: our own choice; crowd: common practice, no source",
  run: (character, { limits, profileName }) => {
    const limit = limits["mesh.budget"];
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
          `The character has ${count} triangles; the ${profileName} ` +
          `profile allows ${limit}. Reduce the heaviest parts.`,
      }),
    ];
  },
});
