import { z } from "zod";
import { OPERATIONS } from "./operations/operations";
import type { ApplyTools, StepNames } from "./operations/operation";
import type { Character } from "../model/character";
import { UserError } from "../model/userError";

export type { StepNames } from "./operations/operation";
export type { CorrectiveItem } from "./operations/makeCorrectives";
export type { ShapeItem } from "./operations/addShapes";

type StepSchema = (typeof OPERATIONS)[number]["schema"];

/** Every step that a ledger may hold. Parts, joints and shapes are referred to by name, geometry by hash. */
export const stepSchema = z.discriminatedUnion(
  "op",
  OPERATIONS.map((o) => o.schema) as unknown as readonly [StepSchema, ...StepSchema[]],
);
export type Step = z.infer<StepSchema>;

/** An operation whatever its kind, asked with steps of its own. */
interface AnyOperation {
  readonly apply: (character: Character, step: Step, tools: ApplyTools) => Character;
  readonly sentence: (step: Step) => string;
  readonly list?: (step: Step) => string[];
  readonly renamed?: (step: Step, names: StepNames) => Step;
  readonly blobs?: (step: Step) => string[];
  readonly movesVertices?: boolean;
}
const BY_OP = new Map<string, AnyOperation>(OPERATIONS.map((o) => [o.op, o as unknown as AnyOperation]));

/** @throws UserError for a step of a later version. */
export function operationOf(step: Step): AnyOperation {
  const found = BY_OP.get(step.op);
  if (found) return found;
  const what = `This version does not know the operation "${step.op}".`;
  throw new UserError(what, "ledger", "Open it with the version that made it.");
}

/** Hashes of the blobs a step refers to. */
export const blobsOfStep = (step: Step): string[] => BY_OP.get(step.op)?.blobs?.(step) ?? [];

/** Hashes of those blobs of a step that hold movement of vertices, made on a surface. */
export const movementOfStep = (step: Step): string[] => (BY_OP.get(step.op)?.movesVertices ? blobsOfStep(step) : []);

/** A step as a sentence for the ledger; of a step of a later version its name. */
export const describeStep = (step: Step): string => BY_OP.get(step.op)?.sentence(step) ?? step.op;

/** Names that a sentence leaves out: what a step made or changed, one by one; empty where the sentence says all. */
export const namesInStep = (step: Step): string[] => BY_OP.get(step.op)?.list?.(step) ?? [];

/** The step with the names it speaks of changed; names that it gives to something new stay. */
export const renamedStep = (step: Step, names: StepNames): Step => BY_OP.get(step.op)?.renamed?.(step, names) ?? step;
