import { z } from "zod";
import { isPhone } from "./phones";

const seconds = z.number().min(0).max(3600);
const stretch = { from: seconds, to: seconds };

/** A spoken line as it is kept. */
export const spokenLineSchema = z.object({
  seconds,
  words: z
    .array(
      z.object({
        text: z.string().max(200),
        ...stretch,
        said: z.string().max(400).optional(),
        guess: z.boolean().optional(),
      }),
    )
    .max(5000),
  phones: z
    .array(
      z.object({
        phone: z.string().refine(isPhone, "is no phone of ARPAbet"),
        ...stretch,
        stress: z.union([z.literal(0), z.literal(1), z.literal(2)]),
        loud: z.number().min(-100).max(100).optional(),
        amount: z.number().min(0).max(1.5).optional(),
      }),
    )
    .max(10_000)
    .refine((list) => list.every((p, i) => p.to > p.from && (i === 0 || p.from >= list[i - 1]!.to - 1e-6)), {
      message: "phones must follow one another",
    }),
});
