import { z } from "zod";
import { driverSchema } from "../../formats/extras";
import type { Character, Driver, Shape } from "../../model/character";
import { UserError } from "../../model/userError";
import { decodeDeltas } from "../deltasBlob";
import { applySamples, renamedSamples, sampledSchema } from "./samplePoses";
import { few, hash, name, namesOf, needJoints, needShape, operation } from "./operation";

/** One corrective as a step carries it: geometry by hash of a blob of deltas (see deltasBlob.ts). */
const correctiveItemSchema = z.object({ name, label: name, blob: hash, driver: driverSchema });
export type CorrectiveItem = z.infer<typeof correctiveItemSchema>;

/**
 * What a corrective of the same joint becomes so that it is still met beside a new one: its movement, and the angle at
 * which it sets in now.
 */
const neighbourEditSchema = z.object({ name, blob: hash, fromDegrees: z.number().nullable() });

export const makeCorrectives = operation({
  op: "make correctives",
  schema: z
    .object({
      op: z.literal("make correctives"),
      items: z.array(correctiveItemSchema),
      edits: z.array(neighbourEditSchema).max(500).optional(),
      /** Sampled poses made with them, as `sample poses` has them. */
      sampled: z.array(sampledSchema).max(60).optional(),
    })
    .refine(({ items, sampled = [] }) => items.length + sampled.length > 0, "nothing is made"),
  apply: (character, { op, items, edits = [], sampled = [] }, { blob }) => {
    const made = items.map((item): { shape: Shape; driver: Driver } => {
      if (character.shapes.some((s) => s.name === item.name))
        throw new UserError(`A shape named ${item.name} exists already.`, op, "Choose another name.");
      needJoints(character, [item.driver.joint], op);
      const deltas = decodeDeltas(character, blob(item.blob));
      return { shape: { name: item.name, label: item.label, deltas }, driver: { ...item.driver, shape: item.name } };
    });
    const edited = new Map(
      edits.map((e) => [
        needShape(character, e.name, op).name,
        { ...e, deltas: decodeDeltas(character, blob(e.blob)) },
      ]),
    );
    const shapeNow = (s: Shape): Shape => ({ ...s, deltas: edited.get(s.name)?.deltas ?? s.deltas });
    const driverNow = (d: Driver): Driver => ({ ...d, fromDegrees: edited.get(d.shape)?.fromDegrees ?? d.fromDegrees });
    const same = edited.size === 0;
    const next = {
      ...character,
      shapes: [...(same ? character.shapes : character.shapes.map(shapeNow)), ...made.map((m) => m.shape)],
      drivers: [...(same ? character.drivers : character.drivers.map(driverNow)), ...made.map((m) => m.driver)],
    } satisfies Character;
    return sampled.reduce<Character>((now, s) => applySamples(now, s, { blob }), next);
  },
  sentence: ({ items, edits = [], sampled = [] }) => {
    const labels = items.map((i) => i.label).join(" and ");
    const counted = items.length > 1 ? `2 correctives ${labels}` : `corrective ${labels}`;
    const poses = sampled.reduce((n, s) => n + s.shapes.length, 0);
    const swings = `${poses} sampled poses of ${few(namesOf(sampled.map((s) => s.set)), "swings")}`;
    if (items.length === 0) return `made ${swings}`;
    const alone = items.length > 2 ? `made ${items.length} correctives` : `made ${counted}`;
    const made = poses ? `${alone} and ${swings}` : alone;
    const given = `, and let ${few(namesOf(edits), "correctives")} give way to ${items.length > 1 ? "them" : "it"}`;
    return edits.length ? made + given : made;
  },
  list: ({ items, sampled = [] }) => {
    const all = [...items, ...sampled.flatMap((s) => s.shapes)];
    return all.length > 2 ? all.map((i) => i.label) : [];
  },
  renamed: (step, { joint, shape }) => ({
    ...step,
    items: step.items.map((i) => ({ ...i, driver: { ...i.driver, joint: joint(i.driver.joint) } })),
    ...(step.edits ? { edits: step.edits.map((e) => ({ ...e, name: shape(e.name) })) } : {}),
    ...(step.sampled ? { sampled: step.sampled.map((s) => renamedSamples(s, { joint, shape })) } : {}),
  }),
  blobs: ({ items, edits = [], sampled = [] }) =>
    [...items, ...edits, ...sampled.flatMap((s) => s.shapes)].map((i) => i.blob),
  movesVertices: true,
});
