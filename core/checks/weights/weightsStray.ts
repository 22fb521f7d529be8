import { reclaimStray } from "../../edits/mend/mendWeights";
import { check } from "../check";
import { finding, type Finding } from "../finding";
import type { StrayIsland } from "../../measure/strayIslands";
import { strayIslands } from "../../measure/strayIslands";

/** One finding for all patches of a part that hang astray on one joint. */
export const weightsStray = check({
  id: "weights.stray",
  title: "Stray islands of weight",
  station: "skeleton",
  unit: "vertices",
  measures:
    "islands of weight far from their joint and nearer to others, from a fifth of the weight on, " +
    "and scattered ones from 3 %; a part that hangs on the joint as a whole has none; one finding a part and joint",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "common practice, no source: hair caught by the upper arm",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Gives the stray vertices of ${f.part} the weights of the nearest vertex that is not astray.`,
    apply: (c, f) => reclaimStray(c, f.part!, f.joint!),
  },
  run: (character) => {
    const groups = new Map<string, StrayIsland[]>();
    for (const island of strayIslands(character))
      groups.set(`${island.part} ${island.joint}`, [...(groups.get(`${island.part} ${island.joint}`) ?? []), island]);
    return [...groups.values()].map((islands): Finding => {
      const [{ part, joint }] = islands as [StrayIsland];
      const [partName, jointName] = [character.parts[part]!.name, character.skeleton!.joints[joint]!.name];
      const vertices = [...islands].sort((a, b) => b.away - a.away).flatMap((i) => i.vertices);
      const away = (100 * Math.max(...islands.map((i) => i.away))).toFixed(0);
      const slight = islands.every((i) => i.slight);
      return finding({
        check: "weights.stray",
        severity: "error",
        part: partName,
        joint: jointName,
        vertices,
        value: vertices.length,
        unit: "vertices",
        limit: 0,
        message:
          `${vertices.length} ${vertices.length === 1 ? "vertex" : "vertices"} of ` +
          `${partName}${islands.length > 1 ? `, in ${islands.length} patches,` : ""} ` +
          `hang${vertices.length === 1 ? "s" : ""}${slight ? " a little" : ""} on ${jointName}, ` +
          `${islands.length > 1 ? "up to " : ""}${away} cm away; give them to the joint nearby.`,
      });
    });
  },
});
