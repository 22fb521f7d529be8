import { z } from "zod";
import { mixSchema } from "../../formats/extras";
import type { Mix } from "../../model/character";
import { few, many, namesOf, needShape, operation } from "./operation";

export const setMix = operation({
  op: "set mix",
  schema: z.object({ op: z.literal("set mix"), mixes: z.array(mixSchema).min(1).max(500) }),
  apply: (character, { op, mixes }) => {
    for (const m of mixes) for (const share of m.shares) needShape(character, share.shape, op);
    const made = new Map(
      mixes.map(({ blocks, ...m }): [string, Mix] => [m.name, blocks?.length ? { ...m, blocks } : m]),
    );
    const old = (character.mixes ?? []).map((m) => made.get(m.name) ?? m);
    return { ...character, mixes: [...old, ...[...made.values()].filter((m) => !old.includes(m))] };
  },
  sentence: ({ mixes }) => `set the mix of ${few(namesOf(mixes), "expressions")}`,
  list: ({ mixes }) => many(namesOf(mixes)),
  renamed: (step, { shape }) => ({
    ...step,
    mixes: step.mixes.map((m) => ({ ...m, shares: m.shares.map((x) => ({ ...x, shape: shape(x.shape) })) })),
  }),
});
