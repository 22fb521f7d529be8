import { z } from "zod";
import type { Character } from "../model/character";
import { decodeDeltas } from "./deltasBlob";
import { hash, name, needShape, type ApplyTools, type StepNames } from "./operations/operation";

/** Correctives that give way to a change so that their own sculpts are still met: movement by hash of a blob. */
export const givingWaySchema = z
  .array(z.object({ name, blob: hash }))
  .max(500)
  .optional();
type GivingWay = z.infer<typeof givingWaySchema>;

/** With their new movement. @throws UserError when one is not there. */
export function giveWay(
  character: Character,
  edits: GivingWay,
  { blob }: Pick<ApplyTools, "blob">,
  op: string,
): Character {
  if (!edits?.length) return character;
  const now = new Map(edits.map((e) => [needShape(character, e.name, op).name, decodeDeltas(character, blob(e.blob))]));
  return {
    ...character,
    shapes: character.shapes.map((s) => (now.has(s.name) ? { ...s, deltas: now.get(s.name)! } : s)),
  };
}

/** With shapes under other names; to be spread over the step. */
export const givingWayRenamed = (edits: GivingWay, { shape }: Pick<StepNames, "shape">): { edits?: GivingWay } =>
  edits ? { edits: edits.map((e) => ({ ...e, name: shape(e.name) })) } : {};

export const givingWayBlobs = (edits: GivingWay): string[] => (edits ?? []).map((e) => e.blob);
