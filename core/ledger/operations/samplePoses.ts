import { z } from "zod";
import { sampleSetSchema } from "../../formats/poseDrivers";
import { readySamples } from "../../evaluate/drivers/sampleWeights";
import type { Character, Shape } from "../../model/character";
import { withoutShape } from "../../model/withoutShape";
import { UserError } from "../../model/userError";
import { decodeDeltas } from "../deltasBlob";
import { givingWayBlobs, givingWayRenamed, givingWaySchema, giveWay } from "../givingWay";
import {
  few,
  hash,
  name,
  namesOf,
  needJoints,
  needShape,
  operation,
  type ApplyTools,
  type StepNames,
} from "./operation";

/** Sampled poses and the shapes made for them. */
export const sampledSchema = z.object({
  /** The set as it is from now on; one of that name is replaced. */
  set: sampleSetSchema,
  /** Shapes made for its samples, and those given another movement. */
  shapes: z.array(z.object({ name, label: name, blob: hash })).max(60),
  /** Shapes of samples that are gone from the set and go with them. */
  gone: z.array(name).max(60).optional(),
});
type Sampled = z.infer<typeof sampledSchema>;

/** @throws UserError when joints or shapes are missing, or two poses are one. */
export function applySamples(
  character: Character,
  { set, shapes, gone = [] }: Sampled,
  { blob }: Pick<ApplyTools, "blob">,
): Character {
  needJoints(
    character,
    set.joints.map((j) => j.joint),
    "sample poses",
  );
  const own = set.samples.flatMap((s) => s.shape ?? []);
  if (new Set(own).size !== own.length)
    throw new UserError(
      `A shape stands at two poses of ${set.name}.`,
      "sample poses",
      "Give each pose a shape of its own.",
    );
  if (!readySamples(set))
    throw new UserError(
      `Two poses of ${set.name} are the same, or one is the rest pose.`,
      "sample poses",
      "Take one of them out, or let twist count where they differ in it.",
    );
  const made = new Map(
    shapes.map((s): [string, Shape] => [
      s.name,
      { name: s.name, label: s.label, deltas: decodeDeltas(character, blob(s.blob)) },
    ]),
  );
  const left = gone.reduce(withoutShape, character);
  const there = new Set(left.shapes.map((s) => s.name));
  const next = {
    ...left,
    shapes: [...left.shapes.map((s) => made.get(s.name) ?? s), ...[...made.values()].filter((s) => !there.has(s.name))],
  };
  for (const shape of own) needShape(next, shape, "sample poses");
  const other = left.sampleSets?.find((s) => s.name !== set.name && s.samples.some((x) => own.includes(x.shape ?? "")));
  if (other)
    throw new UserError(`A shape of ${set.name} belongs to ${other.name} already.`, "sample poses", "Choose another.");
  const free = (d: { readonly shape: string }): boolean => !own.includes(d.shape);
  return {
    ...next,
    drivers: next.drivers.filter(free),
    shapeDrivers: next.shapeDrivers.filter(free),
    ...(next.poseDrivers ? { poseDrivers: next.poseDrivers.filter(free) } : {}),
    sampleSets: [...(next.sampleSets ?? []).filter((s) => s.name !== set.name), set],
  };
}

/** With the joints and shapes it speaks of renamed; shapes that it makes keep their names. */
export function renamedSamples<S extends Sampled>(sampled: S, { joint, shape }: Pick<StepNames, "joint" | "shape">): S {
  const made = new Set(namesOf(sampled.shapes));
  const known = (own: string | null): string | null => (own === null || made.has(own) ? own : shape(own));
  return {
    ...sampled,
    set: {
      ...sampled.set,
      joints: sampled.set.joints.map((j) => ({ ...j, joint: joint(j.joint) })),
      samples: sampled.set.samples.map((s) => ({ ...s, shape: known(s.shape) })),
    },
  };
}

export const samplePoses = operation({
  op: "sample poses",
  schema: sampledSchema.extend({
    op: z.literal("sample poses"),
    /** Correctives sculpted on top of these poses, which give way to how they are weighed from now on. */
    edits: givingWaySchema,
  }),
  apply: (character, step, tools) => giveWay(applySamples(character, step, tools), step.edits, tools, step.op),
  sentence: ({ set, shapes, gone = [] }) => {
    if (shapes.length) return `sampled ${few(namesOf(shapes), "poses")} of ${set.name}`;
    return gone.length ? `took ${few(gone, "samples")} out of ${set.name}` : `changed the sampled poses ${set.name}`;
  },
  renamed: (step, names) => ({ ...renamedSamples(step, names), ...givingWayRenamed(step.edits, names) }),
  blobs: ({ shapes, edits }) => [...shapes.map((s) => s.blob), ...givingWayBlobs(edits)],
  movesVertices: true,
});
