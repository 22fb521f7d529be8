import type { z, ZodType } from "zod";
import type { Quat } from "../../math/vec3";
import type { JointChange } from "./jointChange";

/** What a term reads: turns of joints away from rest, and weights as far as they are known. */
export interface TermView {
  readonly turn: (joint: string) => Quat;
  readonly weight: (shape: string) => number;
}

/** Where a term is at its most: one joint turned away from rest, or one weight set. */
export type TermAtMost =
  { readonly joint: string; readonly turn: Quat } | { readonly shape: string; readonly weight: number };

/** What the schemas of all terms are made of; handed in, as a page that shows a character needs none of them. */
export interface TermSchemas {
  readonly z: typeof z;
  readonly joint: ZodType<string>;
  /** A vector of length 1. */
  readonly unit: ZodType<[number, number, number]>;
  readonly degrees: z.ZodNumber;
}

/** One kind of reading of a pose, whole: what it reads, what it counts, how it is written and what changes it. */
export interface TermKind<T extends { readonly kind: string }> {
  /** The one thing it reads, by name. */
  readonly reads: (term: T) => { readonly joint: string } | { readonly shape: string };
  /** Its numbers, all of which must be finite. */
  readonly numbers: (term: T) => readonly number[];
  /** Made ready once: what it counts in a view, 0 and up. */
  readonly ready: (term: T) => (view: TermView) => number;
  readonly atMost: (term: T) => TermAtMost;
  /** With what it reads at a joint changed. */
  readonly changed: (term: T, of: (joint: string) => JointChange) => T;
  /** With shapes under other names. */
  readonly renamed: (term: T, to: (shape: string) => string) => T;
  /** As it is written in files and steps, `kind` a literal. */
  readonly schema: (parts: TermSchemas) => z.ZodObject;
}
