import { drawBack } from "../../edits/mend/mendFace";
import { amount, check, type Check, type CheckContext, type Limit } from "../check";
import { makeWall, piercing, type Wall } from "../../measure/throughSkin";
import type { PartKind } from "../../model/character";
import { whileShaped } from "../../model/movedBy";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { finding, type Finding } from "../finding";

/** The wall of a part, made once for a run of checks. */
function wallOf(part: number, body: number, { rig, cache }: Pick<CheckContext, "rig" | "cache">): Wall {
  const key = `wall ${part}`;
  if (!cache.has(key)) cache.set(key, makeWall(rig, body, part));
  return cache.get(key) as Wall;
}

const through = (
  id: string,
  kind: PartKind,
  title: string,
): Check<{ readonly "face.through-skin": Limit<number | null> }> =>
  check({
    id,
    title,
    station: "shapes",
    unit: "mm",
    measures:
      "how far teeth or tongue stand out through the outer skin " +
      "at each shape at full; what shows between open lips is fine",
    severity: "error",
    limits: { "face.through-skin": amount(0.2) },
    source: "our own choice: 0.2 mm",
    waitsFor: "stance and size",
    mend: {
      says: (f) => `Takes back as much of what ${f.shape} does to ${f.part} as stands out of the skin.`,
      apply: (c, f) => drawBack(c, f.shape!, f.part!, f.limit!),
    },
    run: (character, context) => {
      const limit = context.limits["face.through-skin"];
      const body = character.parts.findIndex((p) => p.kind === "body");
      if (limit === null || body < 0) return [];
      const out: Finding[] = [];
      character.parts.forEach((part, p) => {
        if (part.kind !== kind) return;
        for (const shape of shapesAsSeen(character)) {
          const own = shape.deltas.find((d) => d.part === p);
          const skinDelta = shape.deltas.find((d) => d.part === body);
          if (!own && !skinDelta) continue;
          const wall = wallOf(p, body, context);
          if (!own && !skinDelta!.vertices.some((v) => wall.skin[v])) continue;
          const { depth, vertices } = whileShaped(character.parts, shape, (now) => piercing(wall, now[p]!, now[body]!));
          const mm = 1000 * (depth - wall.rest);
          if (mm <= limit) continue;
          out.push(
            finding({
              check: id,
              severity: "error",
              shape: shape.name,
              part: part.name,
              vertices: vertices.map(([v]) => v),
              value: mm,
              unit: "mm",
              limit,
              message:
                `${part.name} stands ${mm.toFixed(1)} mm out of the skin ` +
                `at ${shape.label}; draw it back or carry it with the jaw.`,
            }),
          );
        }
      });
      return out;
    },
  });

/** Teeth and tongue that come out through the skin of lips and chin; what shows between open lips is fine. */
export const faceTeethThrough = through("face.teeth-through", "teeth", "Teeth through the skin");
export const faceTongueThrough = through("face.tongue-through", "tongue", "Tongue through the skin");
