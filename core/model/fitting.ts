import { z } from "zod";

export const TRAVELS = ["kept", "on the spot", "straight"] as const;
const amount = (low: number, high: number): z.ZodDefault<z.ZodNumber> => z.number().min(low).max(high).default(0);

/** How a movement is fitted to the figure by hand, on top of what it was transferred to. Degrees and millimetres. */
export const fittingSchema = z.object({
  /** Arms away from the body, degrees. */
  arms: amount(-40, 60),
  /** Collar bones raised, degrees. */
  collars: amount(-20, 30),
  /** Chin raised, degrees. */
  chin: amount(-40, 40),
  /** Feet apart, mm more than they were. */
  stride: amount(-200, 300),
  /** Feet turned out, degrees. */
  feet: amount(-40, 40),
  /** Heels raised over the balls of the feet, degrees. */
  heels: amount(-30, 60),
  /** Hips over the floor, mm more; feet stay. */
  hips: amount(-300, 150),
  mirror: z.boolean().default(false),
  speed: z.number().min(0.25).max(4).default(1),
  travel: z.enum(TRAVELS).default("kept"),
  /** Whether soles are brought to the floor. */
  ground: z.boolean().default(true),
  /** Whether standing feet are held where they stand. */
  hold: z.boolean().default(false),
  /** Whether hands that rest are held where they rest. */
  hands: z.boolean().default(false),
  /** The stretch that is played over and over, seconds of the movement as it came; its end is led over to its start. */
  loop: z
    .object({ from: z.number().min(0), to: z.number().positive() })
    .nullable()
    .default(null),
});
export type Fitting = z.infer<typeof fittingSchema>;
export const NO_FITTING: Fitting = fittingSchema.parse({});
/** A movement exactly as it was transferred. */
export const AS_IT_CAME: Fitting = { ...NO_FITTING, ground: false };
