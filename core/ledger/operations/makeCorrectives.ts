import { z } from "zod";
import { driverSchema } from "../../formats/extras";
import type { Character, Driver, Shape } from "../../model/character";
import { UserError } from "../../model/userError";
import { decodeDeltas } from "../deltasBlob";
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
  schema: z.object({
    op: z.literal("make correctives"),
    items: z.array(correctiveItemSchema).min(1),
    edits: z.array(neighbourEditSchema).max(500).optional(),
  }),
  apply: (character, { op, items, edits = [] }, { blob }) => {
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
    return {
      ...character,
      shapes: [...(same ? character.shapes : character.shapes.map(shapeNow)), ...made.map((m) => m.shape)],
      drivers: [...(same ? character.drivers : character.drivers.map(driverNow)), ...made.map((m) => m.driver)],
    } satisfies Character;
  },
  sentence: ({ items, edits = [] }) => {
    const labels = items.map((i) => i.label).join(" and ");
    const counted = items.length > 1 ? `2 correctives ${labels}` : `corrective ${labels}`;
    const made = items.length > 2 ? `made ${items.length} correctives` : `made ${counted}`;
    const given = `, and let ${few(namesOf(edits), "correctives")} give way to ${items.length > 1 ? "them" : "it"}`;
    return edits.length ? made + given : made;
  },
  list: ({ items }) => (items.length > 2 ? items.map((i) => i.label) : []),
  renamed: (step, { joint, shape }) => ({
    ...step,
    items: step.items.map((i) => ({ ...i, driver: { ...i.driver, joint: joint(i.driver.joint) } })),
    ...(step.edits ? { edits: step.edits.map((e) => ({ ...e, name: shape(e.name) })) } : {}),
  }),
  blobs: ({ items, edits = [] }) => [...items, ...edits].map((i) => i.blob),
  movesVertices: true,
});
