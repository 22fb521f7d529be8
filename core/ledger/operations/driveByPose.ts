import { z } from "zod";
import { poseDriverSchema } from "../../formats/poseDrivers";
import type { Character, Shape } from "../../model/character";
import type { PoseDriver } from "../../model/poseDriver";
import { jointsRead, namesRead, renamedTerm, shapeRead } from "../../model/terms/driverTerms";
import { UserError } from "../../model/userError";
import { decodeDeltas } from "../deltasBlob";
import { givingWayBlobs, givingWayRenamed, givingWaySchema, giveWay } from "../givingWay";
import { few, hash, name, namesOf, needJoints, needShape, operation } from "./operation";

export const driveByPose = operation({
  op: "drive by pose",
  schema: z.object({
    op: z.literal("drive by pose"),
    items: z
      .array(z.object({ name, driver: poseDriverSchema.omit({ shape: true }) }))
      .min(1)
      .max(2000),
    /** Shapes that move nothing, made where they are not there yet: weights for the animator to set, an effort. */
    controls: z.array(name).max(100).optional(),
    /** Shapes made in the same step, to be driven by it. */
    shapes: z
      .array(z.object({ name, label: name, blob: hash }))
      .max(200)
      .optional(),
    /** Correctives sculpted on top, which give way to where these act from now on. */
    edits: givingWaySchema,
  }),
  apply: (character, { op, items, controls = [], shapes = [], edits }, { blob }) => {
    const there = new Set(character.shapes.map((s) => s.name));
    const twice = shapes.find((s) => there.has(s.name));
    if (twice) throw new UserError(`A shape named ${twice.name} exists already.`, op, "Choose another name.");
    const made = [
      ...[...new Set(controls)].filter((n) => !there.has(n)).map((n): Shape => ({ name: n, label: n, deltas: [] })),
      ...shapes.map((s): Shape => ({ name: s.name, label: s.label, deltas: decodeDeltas(character, blob(s.blob)) })),
    ];
    const withMade: Character = { ...character, shapes: [...character.shapes, ...made] };
    const driven = items.reduce((c, i) => driveOne(c, needShape(c, i.name, op).name, i.driver, op), withMade);
    return giveWay(driven, edits, { blob }, op);
  },
  sentence: ({ items }) =>
    items.length === 1
      ? `let ${few(namesRead(items[0]!.driver.terms), "readings")} drive ${items[0]!.name}`
      : `let the pose drive ${few(namesOf(items), "shapes")}`,
  list: ({ items }) =>
    items.length < 2 ? [] : items.map(({ name, driver }) => `${name}: ${namesRead(driver.terms).join(" × ")}`),
  renamed: (step, { joint, shape }) => {
    const made = new Set(namesOf(step.shapes ?? []));
    const known = (own: string): string => (made.has(own) ? own : shape(own));
    return {
      ...step,
      ...givingWayRenamed(step.edits, { shape }),
      items: step.items.map((i) => ({
        name: known(i.name),
        driver: { ...i.driver, terms: i.driver.terms.map((t) => renamedTerm(t, { joint, shape: known })) },
      })),
    };
  },
  blobs: ({ shapes = [], edits }) => [...shapes.map((s) => s.blob), ...givingWayBlobs(edits)],
  movesVertices: true,
});

/** A shape set by readings of a pose, by nothing else any more. @throws UserError for what is not there. */
function driveOne(character: Character, shape: string, driver: Omit<PoseDriver, "shape">, op: string): Character {
  refuseSampled(character, shape, op);
  const own = (d: { readonly shape: string }): boolean => d.shape !== shape;
  for (const term of driver.terms) {
    const read = shapeRead(term);
    needJoints(character, jointsRead([term]), op);
    if (read === shape) throw new UserError(`${shape} cannot set itself.`, op, "");
    if (read !== null) needShape(character, read, op);
  }
  const { poseDrivers = [] } = character;
  const now = { ...driver, shape };
  return {
    ...character,
    drivers: character.drivers.filter(own),
    shapeDrivers: character.shapeDrivers.filter(own),
    poseDrivers: poseDrivers.every(own) ? [...poseDrivers, now] : poseDrivers.map((d) => (own(d) ? d : now)),
  };
}

/** @throws UserError when a shape belongs to sampled poses, which alone say when it is at work. */
export function refuseSampled(character: Character, shape: string, op: string): void {
  const set = character.sampleSets?.find((s) => s.samples.some((x) => x.shape === shape));
  if (set)
    throw new UserError(
      `${shape} is the shape of one of the sampled poses ${set.name}.`,
      op,
      "Take that sample out first.",
    );
}
