import { z } from "zod";
import { spreadTwist } from "../../weights/spreadTwist";
import { withoutShape } from "../../model/withoutShape";
import { givingWayBlobs, givingWayRenamed, givingWaySchema, giveWay } from "../givingWay";
import { few, many, name, namesOf, needShape, operation } from "./operation";

export const addTwistJoints = operation({
  op: "add twist joints",
  schema: z.object({
    op: z.literal("add twist joints"),
    limbs: z
      .array(z.object({ joint: name, end: name, steps: z.number().int().min(2).max(8) }))
      .min(1)
      .max(40),
    /** Correctives of these twists that go, for the joints do their work. */
    without: z.array(name).max(500).optional(),
    /** Correctives sculpted in a twist, which give way so that their own sculpts are still met. */
    edits: givingWaySchema,
  }),
  apply: (character, { op, limbs, without = [], edits }, { blob }) => {
    const left = without.reduce((c, n) => withoutShape(c, needShape(c, n, op).name), character);
    return giveWay(limbs.reduce(spreadTwist, left), edits, { blob }, op);
  },
  sentence: ({ limbs, without = [], edits = [] }) => {
    const all = few(
      limbs.map((l) => l.joint),
      "limbs",
    );
    const gone = without.length ? ` in place of ${few(without, "correctives")}` : "";
    const given = edits.length ? `, and let ${few(namesOf(edits), "correctives")} give way` : "";
    return `spread the twist of ${all} over joints along ${limbs.length > 1 ? "them" : "it"}${gone}${given}`;
  },
  list: ({ limbs }) => many(limbs.map((l) => l.joint)),
  renamed: (step, { joint, shape }) => ({
    ...step,
    limbs: step.limbs.map((l) => ({ ...l, joint: joint(l.joint), end: joint(l.end) })),
    ...(step.without ? { without: step.without.map(shape) } : {}),
    ...givingWayRenamed(step.edits, { shape }),
  }),
  blobs: ({ edits }) => givingWayBlobs(edits),
  movesVertices: true,
});
