import { clamp } from "../../math/vec3";
import type { TermKind } from "./termKind";

/** By another shape's weight, also one that moves nothing and is there for the animator to set (an effort). */
export interface WeightTerm {
  readonly kind: "weight";
  readonly shape: string;
  /** What it counts where that weight is 0; it counts 1 at 1. */
  readonly atNone: number;
}

export const weightTerm: TermKind<WeightTerm> = {
  reads: ({ shape }) => ({ shape }),
  numbers: ({ atNone }) => [atNone],
  ready:
    ({ shape, atNone }) =>
    ({ weight }) =>
      atNone + (1 - atNone) * clamp(weight(shape), 0, 1),
  atMost: ({ shape }) => ({ shape, weight: 1 }),
  changed: (term) => term,
  renamed: (term, to) => ({ ...term, shape: to(term.shape) }),
  schema: ({ z }) =>
    z.object({ kind: z.literal("weight"), shape: z.string().min(1), atNone: z.number().min(0).max(1) }),
};
