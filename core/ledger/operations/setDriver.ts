import { z } from "zod";
import { driverSchema } from "../../formats/extras";
import type { Driver } from "../../model/character";
import { decodeDeltas } from "../deltasBlob";
import { few, given, hash, name, namesOf, needShape, operation } from "./operation";

export const setDriver = operation({
  op: "set driver",
  schema: z.object({
    op: z.literal("set driver"),
    name,
    driver: driverSchema.partial().omit({ shape: true }),
    /** Correctives sculpted on top of it, which give way to where it acts from now on. */
    edits: z
      .array(z.object({ name, blob: hash }))
      .max(500)
      .optional(),
  }),
  apply: (character, step, { blob }) => {
    needShape(character, step.name, step.op);
    const changed = (d: Driver): Driver => (d.shape === step.name ? ({ ...d, ...given(step.driver) } as Driver) : d);
    const now = new Map(
      (step.edits ?? []).map((e) => [needShape(character, e.name, step.op), decodeDeltas(character, blob(e.blob))]),
    );
    return {
      ...character,
      drivers: character.drivers.map(changed),
      ...(now.size ? { shapes: character.shapes.map((s) => (now.has(s) ? { ...s, deltas: now.get(s)! } : s)) } : {}),
    };
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
    ...(step.edits ? { edits: step.edits.map((e) => ({ ...e, name: shape(e.name) })) } : {}),
  }),
  blobs: ({ edits = [] }) => edits.map((e) => e.blob),
  movesVertices: true,
});
