import { z } from "zod";
import { shapeDriverSchema } from "../formats/extras";
import { mirrorDeltas } from "./mirrorDeltas";
import { shapeNamed, type Character, type Shape, type ShapeDelta, type ShapeDriver } from "../model/character";
import { UserError } from "../model/userError";
import { mixShapes } from "./mixShapes";
import { oneSide } from "./sideShare";

const name = z.string().min(1).max(200);

/**
 * How one shape is made from others of the same character. A mix may hold negative weights, which take a shape away.
 */
export const derivationSchema = z.discriminatedUnion("way", [
  z.object({
    way: z.literal("mix"),
    of: z
      .array(z.object({ shape: name, weight: z.number().min(-100).max(100) }))
      .min(1)
      .max(2000),
  }),
  z.object({ way: z.literal("mirror"), of: name }),
  z.object({ way: z.literal("side"), of: name, side: z.enum(["left", "right"]), seamMm: z.number().min(0).max(200) }),
  z.object({ way: z.literal("parts"), of: name, parts: z.array(name).min(1) }),
]);
export type Derivation = z.infer<typeof derivationSchema>;

/** What else sets the weight of a new shape: a driver without the shape's own name. */
export const newDriverSchema = shapeDriverSchema.omit({ shape: true });

export const derivedItemSchema = z.object({
  name,
  label: name,
  from: derivationSchema,
  driver: newDriverSchema.optional(),
});
export type DerivedItem = z.infer<typeof derivedItemSchema>;

/** Names of the shapes a derivation reads. */
export const sourcesOf = (from: Derivation): string[] => (from.way === "mix" ? from.of.map((s) => s.shape) : [from.of]);

function derive(character: Character, from: Derivation): readonly ShapeDelta[] {
  const need = (n: string): Shape => {
    const shape = shapeNamed(character, n);
    if (!shape) throw new UserError(`There is no shape named ${n}.`, "make shapes", "");
    return shape;
  };
  switch (from.way) {
    case "mix":
      return mixShapes(from.of.map((s) => [need(s.shape), s.weight] as const));
    case "mirror":
      return mirrorDeltas(character, need(from.of).deltas).deltas.sort((a, b) => a.part - b.part);
    case "side":
      return need(from.of).deltas.flatMap(
        (d) => oneSide(d, character.parts[d.part]!.positions, from.side, from.seamMm / 1000) ?? [],
      );
    case "parts": {
      const unknown = from.parts.find((p) => !character.parts.some((q) => q.name === p));
      if (unknown !== undefined) throw new UserError(`There is no part named ${unknown}.`, "make shapes", "");
      return need(from.of).deltas.filter((d) => from.parts.includes(character.parts[d.part]!.name));
    }
  }
}

/**
 * Adds a shape, and what drives it. @throws UserError when its name is taken, it moves nothing, or its driver reads a
 * shape that is not there.
 */
export function withNewShape(character: Character, shape: Shape, driver?: Omit<ShapeDriver, "shape">): Character {
  if (shapeNamed(character, shape.name))
    throw new UserError(`A shape named ${shape.name} exists already.`, "make shapes", "Choose another name.");
  if (!shape.deltas.some((d) => d.deltas.some((x) => Math.abs(x) > 1e-7)))
    throw new UserError(`${shape.name} would move nothing.`, "make shapes", "Choose what it is made of again.");
  const unread = driver?.of.find((n) => !shapeNamed(character, n));
  if (unread !== undefined) throw new UserError(`There is no shape named ${unread}.`, "make shapes", "");
  return {
    ...character,
    shapes: [...character.shapes, shape],
    shapeDrivers: driver ? [...character.shapeDrivers, { ...driver, shape: shape.name }] : character.shapeDrivers,
  };
}

/** Makes shapes from shapes, one after the other: later ones may read earlier ones. */
export const deriveShapes = (character: Character, items: readonly DerivedItem[]): Character =>
  items.reduce(
    (c, item) => withNewShape(c, { name: item.name, label: item.label, deltas: derive(c, item.from) }, item.driver),
    character,
  );
