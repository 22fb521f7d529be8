import { z } from "zod";
import { chooseShapes as choose, shapeChoiceSchema } from "../../shapes/choice/chooseShapes";
import { operation } from "./operation";

export const chooseShapes = operation({
  op: "choose shapes",
  schema: z.object({ op: z.literal("choose shapes"), choice: shapeChoiceSchema }),
  apply: (character, { choice }) => choose(character, choice),
  sentence: ({ choice: { rules, favourites } }) => {
    const kept = favourites.length ? ` and ${favourites.length} favourites` : "";
    return `chose shapes by ${rules.length === 1 ? "1 rule" : `${rules.length} rules`}${kept}`;
  },
  renamed: (step, { shape }) => ({
    ...step,
    choice: { ...step.choice, favourites: step.choice.favourites.map(shape) },
  }),
});
