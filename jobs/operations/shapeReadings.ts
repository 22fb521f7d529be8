import { z } from "zod";
import { measureShapes, type ShapeReading } from "../../core/measure/measureShapes";
import { job } from "../job";

/** Every shape at full, in numbers. */
export const shapeReadings = job({
  input: z.object({}),
  run: ({ rig }, _none, tick): Promise<ShapeReading[]> => measureShapes(rig, tick),
});
