import { decodeContainer, encodeContainer } from "../formats/container";
import type { Character, ShapeDelta } from "../model/character";
import { UserError } from "../model/userError";

/** Sculpted movement as stored: by part name, with the vertex count of the surface it was made on. */
interface StoredDelta {
  readonly part: string;
  readonly vertexCount: number;
  readonly vertices: Uint32Array;
  readonly deltas: Float32Array;
}

export const encodeDeltas = (character: Character, deltas: readonly ShapeDelta[]): Uint8Array<ArrayBuffer> =>
  encodeContainer({ deltas: deltas.map((d): StoredDelta => ({ part: character.parts[d.part]!.name, vertexCount: character.parts[d.part]!.positions.length / 3, vertices: d.vertices, deltas: d.deltas })) });

/** Reads deltas for a character; throws UserError when its parts are no longer those the movement was made on. */
export function decodeDeltas(character: Character, bytes: Uint8Array): ShapeDelta[] {
  const stored = (decodeContainer(bytes) as { deltas: StoredDelta[] }).deltas;
  return stored.map((d) => {
    const part = character.parts.findIndex((p) => p.name === d.part);
    if (part < 0) throw new UserError(`The character has no part named ${d.part}.`, "sculpt", "Relink the part first.");
    const count = character.parts[part]!.positions.length / 3;
    if (count !== d.vertexCount) throw new UserError(`It was sculpted on ${d.vertexCount} vertices; ${d.part} has ${count}.`, "sculpt", "Carry it over by surface.");
    if (d.vertices.some((v) => v >= count) || !d.deltas.every(Number.isFinite)) throw new UserError("Its numbers do not fit the part.", "sculpt", "Sculpt it again.");
    return { part, vertices: d.vertices, deltas: d.deltas };
  });
}
