import { z } from "zod";
import { derivedItemSchema, deriveShapes as derive, sourcesOf, type Derivation } from "../../shapes/deriveShapes";
import { few, many, namesOf, operation, type StepNames } from "./operation";

export const deriveShapes = operation({
  op: "derive shapes",
  schema: z.object({ op: z.literal("derive shapes"), items: z.array(derivedItemSchema).min(1).max(2000) }),
  apply: (character, { items }) => derive(character, items),
  sentence: ({ items }) => {
    const sources = [...new Set(items.flatMap((i) => sourcesOf(i.from)))];
    return `made ${few(namesOf(items), "shapes")} from ${few(sources, "shapes")}`;
  },
  list: ({ items }) => many(namesOf(items)),
  renamed: (step, names) => ({
    ...step,
    items: step.items.map((i) => ({
      ...i,
      from: fromRenamed(i.from, names),
      ...(i.driver ? { driver: { ...i.driver, of: i.driver.of.map(names.shape) } } : {}),
    })),
  }),
});

function fromRenamed(from: Derivation, { shape, part }: StepNames): Derivation {
  if (from.way === "mix") return { ...from, of: from.of.map((s) => ({ ...s, shape: shape(s.shape) })) };
  if (from.way === "parts") return { ...from, of: shape(from.of), parts: from.parts.map(part) };
  return { ...from, of: shape(from.of) };
}
