import type { Character, JointOffset } from "../model/character";
import { movedBase, type NewIdentity } from "../wrap/newIdentity";
import { encodeDeltas } from "./deltasBlob";

/** Another face as a step carries it. */
export interface EncodedFace {
  readonly base: Uint8Array<ArrayBuffer>;
  readonly jointOffsets: readonly JointOffset[];
  readonly shapes: readonly { readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }[];
}

/**
 * The base's movement is stored on the old face, that of the shapes on the new one: so each can be carried to another
 * mesh.
 */
export function encodeIdentity(character: Character, { deltas, jointOffsets, shapes }: NewIdentity): EncodedFace {
  const moved = movedBase(character, deltas, jointOffsets);
  return {
    base: encodeDeltas(character, deltas),
    jointOffsets,
    shapes: shapes.map((s) => ({ name: s.name, bytes: encodeDeltas(moved, s.deltas) })),
  };
}
