import { z } from "zod";
import { withoutShape } from "../../model/withoutShape";
import { few, many, name, needShape, operation } from "./operation";

export const removeShapes = operation({
  op: "remove shapes",
  schema: z.object({ op: z.literal("remove shapes"), names: z.array(name).min(1).max(2000) }),
  apply: (character, { op, names }) => {
    for (const n of names) needShape(character, n, op);
    return names.reduce(withoutShape, character);
  },
  sentence: ({ names }) => `removed ${few(names, "shapes")}`,
  list: ({ names }) => many(names),
  renamed: (step, { shape }) => ({ ...step, names: step.names.map(shape) }),
});
