import { z } from "zod";
import { driverSchema } from "../../formats/extras";
import type { Driver } from "../../model/character";
import { given, name, needShape, operation } from "./operation";

export const setDriver = operation({
  op: "set driver",
  schema: z.object({ op: z.literal("set driver"), name, driver: driverSchema.partial().omit({ shape: true }) }),
  apply: (character, step) => {
    needShape(character, step.name, step.op);
    const changed = (d: Driver): Driver => (d.shape === step.name ? ({ ...d, ...given(step.driver) } as Driver) : d);
    return { ...character, drivers: character.drivers.map(changed) };
  },
  sentence: ({ name, driver }) => {
    const only = Object.keys(driver).length === 1;
    if (only && driver.enabled !== undefined) return `switched corrective ${name} ${driver.enabled ? "on" : "off"}`;
    if (only && driver.intensity !== undefined) return `set the intensity of ${name} to ${driver.intensity}`;
    return `changed what drives ${name}`;
  },
  renamed: (step, { joint, shape }) => ({
    ...step,
    name: shape(step.name),
    driver: step.driver.joint === undefined ? step.driver : { ...step.driver, joint: joint(step.driver.joint) },
  }),
});
