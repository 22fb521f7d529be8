import path from "node:path";
import { poseNote } from "../../core/correctives/poseNote";
import { extensionsThat, formatOf } from "../../core/formats/formats";
import { deform, makeRig } from "../../core/deform/rig";
import type { Character } from "../../core/model/character";
import { UserError } from "../../core/model/userError";
import { momentFrom, type MomentOptions } from "../options";
import { readCharacter } from "../readCharacter";
import { writeOut } from "../writeOut";

/** Writes a mesh at given positions in the format its file name asks for. */
export async function writeMesh(
  character: Character,
  positions: readonly Float32Array[],
  out: string,
  note?: string,
): Promise<void> {
  const format = formatOf(out);
  if (!format?.writeMesh)
    throw new UserError(
      `Meshes are not written as ${path.extname(out).toLowerCase() || "(no extension)"}.`,
      out,
      `Use ${extensionsThat((f) => f.writeMesh !== undefined)}.`,
    );
  writeOut(out, await format.writeMesh(character, positions, note));
}

export async function pose(file: string, options: MomentOptions & { out: string }): Promise<number> {
  const { character } = await readCharacter(file);
  const moment = momentFrom(character, options);
  await writeMesh(
    character,
    deform(makeRig(character), moment, { normals: false }).positions,
    options.out,
    poseNote(moment),
  );
  return 0;
}
