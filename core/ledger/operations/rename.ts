import { z } from "zod";
import { RENAMED_KINDS, renameThings } from "../../edits/names/renameThings";
import { name, operation } from "./operation";

export const rename = operation({
  op: "rename",
  schema: z.object({
    op: z.literal("rename"),
    kind: z.enum(RENAMED_KINDS),
    names: z
      .array(z.object({ from: name, to: name }))
      .min(1)
      .max(20_000),
  }),
  apply: (character, { kind, names }) => renameThings(character, kind, new Map(names.map((n) => [n.from, n.to]))),
  sentence: ({ kind, names: [first, ...more] }) =>
    `renamed ${first!.from} to ${first!.to}${more.length ? ` and ${more.length} more ${kind}` : ` among the ${kind}`}`,
  list: ({ names }) => (names.length > 1 ? names.map((n) => `${n.from} → ${n.to}`) : []),
  renamed: (step, { joint, part, shape, clip }) => {
    const same = (n: string): string => n;
    const change = { joints: joint, parts: part, shapes: shape, clips: clip, materials: same }[step.kind];
    return { ...step, names: step.names.map((n) => ({ ...n, from: change(n.from) })) };
  },
});
