import { z } from "zod";
import { movedBase } from "../../wrap/newIdentity";
import { decodeDeltas } from "../deltasBlob";
import { hash, name, namesOf, needJoints, needShape, operation } from "./operation";

export const newFace = operation({
  op: "new face",
  schema: z.object({
    op: z.literal("new face"),
    source: z.string().min(1).max(200),
    base: hash,
    jointOffsets: z
      .array(z.object({ joint: z.string(), offset: z.tuple([z.number(), z.number(), z.number()]) }))
      .max(5000),
    shapes: z.array(z.object({ name, blob: hash })).max(2000),
  }),
  apply: (character, { op, base, jointOffsets, shapes }, { blob }) => {
    needJoints(
      character,
      jointOffsets.map((o) => o.joint),
      op,
    );
    const based = movedBase(character, decodeDeltas(character, blob(base)), jointOffsets);
    const carried = new Map(
      shapes.map((s) => [needShape(character, s.name, op).name, decodeDeltas(based, blob(s.blob))]),
    );
    return {
      ...based,
      shapes: based.shapes.map((s) => (carried.has(s.name) ? { ...s, deltas: carried.get(s.name)! } : s)),
    };
  },
  sentence: ({ source, shapes }) =>
    `took on the face of ${source}${shapes.length ? `, ${shapes.length} shapes carried to it` : ""}`,
  list: ({ shapes }) => namesOf(shapes),
  renamed: (step, { joint, shape }) => ({
    ...step,
    jointOffsets: step.jointOffsets.map((o) => ({ ...o, joint: joint(o.joint) })),
    shapes: step.shapes.map((s) => ({ ...s, name: shape(s.name) })),
  }),
  blobs: ({ base, shapes }) => [base, ...shapes.map((s) => s.blob)],
  movesVertices: true,
});
