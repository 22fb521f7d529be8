import { z } from "zod";
import { driverSchema } from "../../formats/extras";
import type { Character, Driver, ShapeDriver } from "../../model/character";
import { rangeWords } from "../../model/drivenByTurn";
import { UserError } from "../../model/userError";
import { newDriverSchema } from "../../shapes/deriveShapes";
import { few, name, needJoints, needShape, operation } from "./operation";
import { refuseSampled } from "./driveByPose";

export const driveShapes = operation({
  op: "drive shapes",
  schema: z.object({
    op: z.literal("drive shapes"),
    items: z
      .array(
        z.object({ name, driver: driverSchema.omit({ shape: true }).nullable(), rule: newDriverSchema.nullable() }),
      )
      .min(1)
      .max(2000),
  }),
  apply: (character, { op, items }) =>
    items.reduce((c, i) => driveShape(c, needShape(character, i.name, op).name, i.driver, i.rule, op), character),
  sentence: ({ items }) => {
    const [only, ...more] = items;
    if (more.length) return `let joints and shapes set ${items.length} shapes`;
    if (only!.driver) return `let ${only!.driver.joint} drive ${only!.name}`;
    return only!.rule ? `let ${few(only!.rule.of, "shapes")} set ${only!.name}` : `left ${only!.name} to the hand`;
  },
  list: ({ items }) => {
    if (items.length < 2) return [];
    return items.map(({ name, driver, rule }) => {
      if (driver) return `${name}: ${rangeWords(driver)}`;
      return `${name}: ${rule ? rule.of.join(" × ") : "the hand"}`;
    });
  },
  renamed: (step, { joint, shape }) => ({
    ...step,
    items: step.items.map((i) => ({
      name: shape(i.name),
      driver: i.driver && { ...i.driver, joint: joint(i.driver.joint) },
      rule: i.rule && { ...i.rule, of: i.rule.of.map(shape) },
    })),
  }),
});

/**
 * A shape driven by a joint, set by other shapes, or by neither: then the hand sets it.
 * @throws UserError for both at once, or for what is not there.
 */
function driveShape(
  character: Character,
  shape: string,
  driver: Omit<Driver, "shape"> | null,
  rule: Omit<ShapeDriver, "shape"> | null,
  op: string,
): Character {
  if (driver && rule)
    throw new UserError("A shape is driven by a joint or set by other shapes, not both.", op, "Choose one.");
  refuseSampled(character, shape, op);
  if (driver) needJoints(character, [driver.joint], op);
  if (rule?.of.includes(shape)) throw new UserError(`${shape} cannot set itself.`, op, "");
  for (const source of rule?.of ?? []) needShape(character, source, op);
  const others = <D extends { readonly shape: string }>(list: readonly D[]): D[] =>
    list.filter((d) => d.shape !== shape);
  return {
    ...character,
    drivers: [...others(character.drivers), ...(driver ? [{ ...driver, shape }] : [])],
    shapeDrivers: [...others(character.shapeDrivers), ...(rule ? [{ ...rule, shape }] : [])],
    ...(character.poseDrivers ? { poseDrivers: others(character.poseDrivers) } : {}),
  };
}
