import path from "node:path";
import { deform, makeRig } from "../../core/deform/rig";
import { REST_MOMENT } from "../../core/evaluate/moment";
import { extensionsThat, formatOf } from "../../core/formats/formats";
import { writeObj } from "../../core/formats/obj/writeObj";
import type { Character } from "../../core/model/character";
import { movedBy } from "../../core/model/movedBy";
import { writeWithoutShapes } from "../../core/ledger/provePoses";
import { uniqueName } from "../../core/model/uniqueName";
import { UserError } from "../../core/model/userError";
import { reduceCharacter } from "../../core/edits/reduce/reduceCharacter";
import { readCharacterOrClips } from "../readCharacter";
import { momentFrom } from "../options";
import { writeObjBesideLibrary } from "../writeObjFiles";
import { writeOut, writeSet } from "../writeOut";
import { writeMesh } from "./pose";

/**
 * GLB keeps everything, VRM adds humanoid bones and expressions; OBJ, PLY and STL keep the rest mesh; JSON keeps
 * drivers, joint map and shape labels; a folder gets an OBJ set. `triangles` brings the character under a budget first.
 */
export async function convert(
  input: string,
  out: string,
  { triangles, shapes, shape = [] }: { triangles?: string; shapes?: string; shape?: string[] } = {},
): Promise<number> {
  const extension = path.extname(out).toLowerCase();
  const asSet = extension === "";
  const format = formatOf(out);
  if (!asSet && !format?.write && !format?.writeMesh)
    throw new UserError(
      `Files of the kind ${extension} are not written.`,
      path.basename(out),
      `Use ${extensionsThat((f) => Boolean(f.write ?? f.writeMesh))}, or a folder for an OBJ set.`,
    );
  const budget = triangles === undefined ? null : Number(triangles);
  if (budget !== null && !(Number.isInteger(budget) && budget > 0))
    throw new UserError(`"${triangles}" is no number of triangles.`, "--triangles", "Give a whole number above 0.");
  const { character: whole } = await readCharacterOrClips(input);
  const { character, ...counts } = budget === null ? { character: whole } : reduceCharacter(whole, budget);
  if ("trianglesBefore" in counts)
    process.stderr.write(`${counts.trianglesBefore} triangles became ${counts.trianglesAfter}\n`);
  if (shapes !== undefined) return writePlain(character, out, { shapes, shape });
  if (asSet) writeSet(out, () => writeObjSet(character, out));
  else if (format?.write) writeOut(out, await format.write(character));
  else if (extension === ".obj")
    writeObjBesideLibrary(character, atRest(character), path.dirname(out), path.basename(out, path.extname(out)));
  else await writeMesh(character, atRest(character), out);
  return 0;
}

/** A GLB without shapes, those of `--shape` standing in its rest places, and the proof that its poses are the same. */
async function writePlain(
  character: Character,
  out: string,
  given: { shapes: string; shape: string[] },
): Promise<number> {
  if (given.shapes !== "none")
    throw new UserError(`"${given.shapes}" is no way to write shapes.`, "--shapes", "Give none, or leave it out.");
  if (path.extname(out).toLowerCase() !== ".glb")
    throw new UserError("Only a GLB is written without shapes.", path.basename(out), "Give the file the ending .glb.");
  const { weights } = momentFrom(character, { joint: [], shape: given.shape, method: "linear" });
  const { glb, proved } = await writeWithoutShapes(character, weights);
  writeOut(out, glb);
  process.stderr.write(
    `${proved.moments} poses compared, ${proved.clips} clips: joints to ${proved.jointMm.toFixed(5)} mm, ` +
      `skin to ${proved.vertexMm.toFixed(5)} mm\n`,
  );
  return 0;
}

const atRest = (character: Character): Float32Array[] =>
  deform(makeRig(character), { ...REST_MOMENT, drivers: false }, { normals: false }).positions;

/** A folder of OBJ files: the base, and one target for each shape at full. */
function writeObjSet(character: Character, folder: string): void {
  writeObjBesideLibrary(
    character,
    character.parts.map((p) => p.positions),
    folder,
    "base",
  );
  const taken = new Set(["base"]);
  for (const shape of character.shapes) {
    const positions = character.parts.map((part, p) =>
      shape.deltas
        .filter((d) => d.part === p)
        .reduce((now, d) => movedBy({ ...part, positions: now }, d).moved, part.positions),
    );
    writeOut(
      path.join(folder, `${uniqueName(shape.name.replace(/[^\w .-]+/g, "_"), taken, "shape")}.obj`),
      writeObj(character, positions),
    );
  }
}
