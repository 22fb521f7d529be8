import { z } from "zod";
import type { ShapeDriver } from "../../model/character";
import { UserError } from "../../model/userError";
import { newDriverSchema } from "../../shapes/deriveShapes";
import { given, name, needShape, operation } from "./operation";

export const setShapeDriver = operation({
  op: "set shape driver",
  schema: z.object({ op: z.literal("set shape driver"), name, driver: newDriverSchema.partial() }),
  apply: (character, step) => {
    needShape(character, step.name, step.op);
    if (!character.shapeDrivers.some((d) => d.shape === step.name))
      throw new UserError(`${step.name} is set by no other shape.`, step.op, "");
    for (const source of step.driver.of ?? []) needShape(character, source, step.op);
    const changed = (d: ShapeDriver): ShapeDriver =>
      d.shape === step.name ? ({ ...d, ...given(step.driver) } as ShapeDriver) : d;
    return { ...character, shapeDrivers: character.shapeDrivers.map(changed) };
  },
  sentence: ({ name, driver }) =>
    Object.keys(driver).length === 1 && driver.enabled !== undefined
      ? `switched ${name} ${driver.enabled ? "on" : "off"}`
      : `changed what sets ${name}`,
  renamed: (step, { shape }) => ({
    ...step,
    name: shape(step.name),
    driver: step.driver.of ? { ...step.driver, of: step.driver.of.map(shape) } : step.driver,
  }),
});
