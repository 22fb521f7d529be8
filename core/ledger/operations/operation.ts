import { z } from "zod";
import type { Character, Shape } from "../../model/character";
import type { ShareDone } from "../../model/shareDone";
import { UserError } from "../../model/userError";

/** What joints, parts, shapes and clips are to be called. */
type Rename = (name: string) => string;
export interface StepNames {
  readonly joint: Rename;
  readonly part: Rename;
  readonly shape: Rename;
  readonly clip: Rename;
}

/** What applying a step may ask for. */
export interface ApplyTools {
  /** Bytes of a blob. @throws UserError when they are missing. */
  readonly blob: (hash: string) => Uint8Array;
  /** Told how much of a long step is done. */
  readonly tell: ShareDone;
}

type SchemaOf<Op extends string> = z.ZodType<{ readonly op: Op }> & z.core.$ZodTypeDiscriminable;

/** One kind of change that a ledger may hold, whole: what it is made of, what it does, and how it is told. */
export interface Operation<Op extends string, S extends SchemaOf<Op>> {
  readonly op: Op;
  /** Parts, joints and shapes are referred to by name, geometry by hash. */
  readonly schema: S;
  /** @throws UserError when it cannot be applied; then nothing has changed. */
  readonly apply: (character: Character, step: z.infer<S>, tools: ApplyTools) => Character;
  /** The step as a sentence for the ledger. */
  readonly sentence: (step: z.infer<S>) => string;
  /** Names that the sentence leaves out, one by one; none where it says all. */
  readonly list?: (step: z.infer<S>) => string[];
  /**
   * With the names it speaks of changed; names that it gives to something new stay. Left out where it speaks of none.
   */
  readonly renamed?: (step: z.infer<S>, names: StepNames) => z.infer<S>;
  /** Hashes of the blobs that it refers to. */
  readonly blobs?: (step: z.infer<S>) => string[];
  /** Whether its blobs hold movement of vertices, made on a surface: carried to another net when it is replayed. */
  readonly movesVertices?: boolean;
}
export const operation = <const Op extends string, S extends SchemaOf<Op>>(o: Operation<Op, S>): Operation<Op, S> => o;

export const name = z.string().min(1).max(200);
export const hash = z.string().regex(/^[0-9a-f]{64}$/);

/** Up to two names, or how many there are. */
export const few = (names: readonly string[], things: string): string =>
  names.length <= 2 ? names.join(" and ") : `${names.length} ${things}`;
/** Names where `few` only counts them. */
export const many = (names: readonly string[]): string[] => (names.length > 2 ? [...names] : []);
export const namesOf = (items: readonly { readonly name: string }[]): string[] => items.map((i) => i.name);

/** @throws UserError when the character has no such shape. */
export function needShape({ shapes }: Character, shape: string, op: string): Shape {
  const found = shapes.find((s) => s.name === shape);
  if (!found) throw new UserError(`There is no shape named ${shape}.`, op, "");
  return found;
}

/** @throws UserError when the character lacks one of the joints. */
export function needJoints({ skeleton }: Character, joints: readonly string[], op: string): void {
  const unknown = joints.find((joint) => !skeleton?.joints.some((j) => j.name === joint));
  if (unknown !== undefined) throw new UserError(`There is no joint named ${unknown}.`, op, "");
}

/** What a change of several settings sets. */
export const given = <T extends object>(change: T): Partial<T> =>
  Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined)) as Partial<T>;

/** Keys of a record by other names. */
export const keysRenamed = <T>(record: Readonly<Record<string, T>>, to: Rename): Record<string, T> =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [to(key), value]));
