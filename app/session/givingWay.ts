import { encodeDeltas } from "~core/ledger/deltasBlob";
import type { StackedEdit } from "~core/correctives/stackedOn";
import type { Character } from "~core/model/character";
import { hashOf } from "./ledgerClient";

/** Correctives that give way to a step, as the step carries them, with the bytes of their movement. */
export async function writtenGivingWay(
  character: Character,
  edits: readonly StackedEdit[],
): Promise<{ edits: { name: string; blob: string }[]; blobs: Uint8Array[] }> {
  const blobs = edits.map((e) => encodeDeltas(character, e.deltas));
  const hashes = await Promise.all(blobs.map(hashOf));
  return { edits: edits.map((e, i) => ({ name: e.name, blob: hashes[i]! })), blobs };
}

/** What is told of correctives on top of a changed one; empty where there is none. */
export function onTopWords(edits: readonly Pick<StackedEdit, "name">[]): string {
  if (edits.length === 0) return "";
  const who =
    edits.length === 1
      ? `${edits[0]!.name}, sculpted on top of it, gives`
      : `${edits.length} correctives sculpted on top of it give`;
  return `${who} way: their sculpts are met as before.`;
}
