import { z } from "zod";
import { withoutShape } from "../../model/withoutShape";
import { name, needShape, operation } from "./operation";

export const removeCorrective = operation({
  op: "remove corrective",
  schema: z.object({ op: z.literal("remove corrective"), name }),
  apply: (character, step) => withoutShape(character, needShape(character, step.name, step.op).name),
  sentence: (step) => `removed corrective ${step.name}`,
  renamed: (step, { shape }) => ({ ...step, name: shape(step.name) }),
});
