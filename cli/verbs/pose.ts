import path from "node:path";
import { poseNote } from "../../core/correctives/poseNote";
import { writeObj } from "../../core/formats/obj/writeObj";
import { writePly } from "../../core/formats/writePly";
import { writeStl } from "../../core/formats/writeStl";
import { deform, makeRig } from "../../core/deform/rig";
import type { Character } from "../../core/model/character";
import { UserError } from "../../core/model/userError";
import { momentFrom, type MomentOptions } from "../options";
import { readCharacter } from "../readCharacter";
import { writeOut } from "../writeOut";

/** Writes a mesh at given positions in the format its file name asks for. */
export function writeMesh(character: Character, positions: readonly Float32Array[], out: string, note?: string): void {
  const data = meshData(character, positions, path.extname(out).toLowerCase(), out, note);
  writeOut(out, data);
}

function meshData(
  character: Character,
  positions: readonly Float32Array[],
  extension: string,
  out: string,
  note?: string,
): string | Uint8Array {
  switch (extension) {
    case ".obj":
      return writeObj(character, positions, undefined, note);
    case ".ply":
      return writePly(character, positions);
    case ".stl":
      return writeStl(character, positions);
    case ".json":
      return `${JSON.stringify({ parts: character.parts.map((p, i) => ({ name: p.name, vertices: rowsOf(positions[i]!) })) })}\n`;
    default:
      throw new UserError(
        `Meshes are not written as ${extension || "(no extension)"}.`,
        out,
        "Use .obj, .ply, .stl or .json.",
      );
  }
}

export async function pose(file: string, options: MomentOptions & { out: string }): Promise<number> {
  const { character } = await readCharacter(file);
  const moment = momentFrom(character, options);
  writeMesh(character, deform(makeRig(character), moment, { normals: false }).positions, options.out, poseNote(moment));
  return 0;
}

/** Three numbers for each vertex. */
const rowsOf = (P: Float32Array): number[][] =>
  Array.from({ length: P.length / 3 }, (_, v) => Array.from(P.subarray(3 * v, 3 * v + 3)));
