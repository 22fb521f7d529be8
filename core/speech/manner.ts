import { z } from "zod";

const amount = z.number().min(0).max(1.5).default(1);
const part = z.number().min(0).max(1).default(0.5);

/** How a line is spoken. 1 is as the visemes are. */
export const mannerSchema = z.object({
  jaw: amount,
  lips: amount,
  tongue: amount,
  /** How much wider a louder vowel opens. */
  loudness: part,
  /** How much less an unstressed vowel opens. */
  stress: z.number().min(0).max(1).default(1),
  /** Blinks now and then, and at the end of a phrase. */
  blinks: z.boolean().default(true),
  /** How far the brows go up on stressed words, and the head nods with them. */
  brows: part,
  head: part,
  /** Other numbers blink and nod at other times. */
  seed: z.number().int().min(0).max(9999).default(1),
});
export type Manner = z.infer<typeof mannerSchema>;
export const PLAIN_MANNER: Manner = mannerSchema.parse({});
/** The mouth alone: nothing but the visemes. */
export const MOUTH_ONLY: Manner = { ...PLAIN_MANNER, loudness: 0, blinks: false, brows: 0, head: 0 };
