import { z } from "zod";
import { SEVERITIES, type Finding } from "./finding";

/** A finding as the command line and the interface for programs give it. */
export const findingSchema: z.ZodType<Finding> = z.object({
  check: z.string(),
  severity: z.enum(SEVERITIES),
  part: z.string().nullable(),
  joint: z.string().nullable(),
  shape: z.string().nullable(),
  pair: z.tuple([z.string(), z.string()]).nullable(),
  clip: z.string().nullable(),
  vertices: z.array(z.number().int()),
  value: z.number().nullable(),
  unit: z.string(),
  limit: z.number().nullable(),
  message: z.string(),
});
