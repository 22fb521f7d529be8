import { angleTerm } from "./angleTerm";
import { directionTerm } from "./directionTerm";
import { UNCHANGED } from "./jointChange";
import type { TermKind } from "./termKind";
import { weightTerm } from "./weightTerm";

/** All kinds of readings, each whole in its own file. */
export const TERM_KINDS = { angle: angleTerm, direction: directionTerm, weight: weightTerm };

type TermOf<K> = K extends TermKind<infer T> ? T : never;
export type DriverTerm = TermOf<(typeof TERM_KINDS)[keyof typeof TERM_KINDS]>;

/** The kind of a term. */
export const kindOf = <T extends DriverTerm>({ kind }: T): TermKind<T> => TERM_KINDS[kind] as unknown as TermKind<T>;

/** The joint that a term reads; null where it reads a weight. */
export function jointRead(term: DriverTerm): string | null {
  const read = kindOf(term).reads(term);
  return "joint" in read ? read.joint : null;
}

/** The shape whose weight a term reads; null where it reads a joint. */
export function shapeRead(term: DriverTerm): string | null {
  const read = kindOf(term).reads(term);
  return "shape" in read ? read.shape : null;
}

export const jointsRead = (terms: readonly DriverTerm[]): string[] => terms.flatMap((t) => jointRead(t) ?? []);
export const shapesRead = (terms: readonly DriverTerm[]): string[] => terms.flatMap((t) => shapeRead(t) ?? []);

/** What terms read, by name, each once. */
export const namesRead = (terms: readonly DriverTerm[]): string[] => [
  ...new Set(terms.flatMap((t) => jointRead(t) ?? shapeRead(t) ?? [])),
];

/** With joints and shapes under other names. */
export function renamedTerm<T extends DriverTerm>(
  term: T,
  to: { readonly joint: (own: string) => string; readonly shape: (own: string) => string },
): T {
  const kind = kindOf(term);
  return kind.renamed(
    kind.changed(term, (own) => ({ ...UNCHANGED, joint: to.joint(own) })),
    to.shape,
  );
}
