import { z } from "zod";
import { driverSchema } from "../../formats/extras";
import type { Driver } from "../../model/character";
import { givingWayBlobs, givingWayRenamed, givingWaySchema, giveWay } from "../givingWay";
import { few, given, name, namesOf, needShape, operation } from "./operation";

export const setDriver = operation({
  op: "set driver",
  schema: z.object({
    op: z.literal("set driver"),
    name,
    driver: driverSchema.partial().omit({ shape: true }),
    /** Correctives sculpted on top of it, which give way to where it acts from now on. */
    edits: givingWaySchema,
  }),
  apply: (character, step, { blob }) => {
    needShape(character, step.name, step.op);
    const changed = (d: Driver): Driver => (d.shape === step.name ? ({ ...d, ...given(step.driver) } as Driver) : d);
    return giveWay({ ...character, drivers: character.drivers.map(changed) }, step.edits, { blob }, step.op);
  },
  sentence: ({ name, driver, edits = [] }) => {
    const only = Object.keys(driver).length === 1;
    if (only && driver.enabled !== undefined) return `switched corrective ${name} ${driver.enabled ? "on" : "off"}`;
    if (only && driver.intensity !== undefined) return `set the intensity of ${name} to ${driver.intensity}`;
    const given = edits.length ? `, and let ${few(namesOf(edits), "correctives")} on top give way` : "";
    return `changed what drives ${name}${given}`;
  },
  renamed: (step, { joint, shape }) => ({
    ...step,
    name: shape(step.name),
    driver: step.driver.joint === undefined ? step.driver : { ...step.driver, joint: joint(step.driver.joint) },
    ...givingWayRenamed(step.edits, { shape }),
  }),
  blobs: ({ edits }) => givingWayBlobs(edits),
  movesVertices: true,
});
