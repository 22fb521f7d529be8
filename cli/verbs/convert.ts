import path from "node:path";
import { rootExtras, writeGlb } from "../../core/formats/glb/writeGlb";
import { deform, makeRig, REST_MOMENT } from "../../core/deform/rig";
import { UserError } from "../../core/model/userError";
import { readCharacter } from "../readCharacter";
import { writeMesh, writeOut } from "./pose";

/** GLB keeps everything; OBJ, PLY and STL keep the rest mesh; JSON keeps drivers, joint map and shape labels. */
export async function convert(input: string, out: string): Promise<number> {
  const extension = path.extname(out).toLowerCase();
  if (![".glb", ".obj", ".ply", ".stl", ".json"].includes(extension)) throw new UserError(`Files of the kind ${extension || "(none)"} are not written.`, path.basename(out), "Use .glb, .obj, .ply, .stl or .json.");
  const { character } = await readCharacter(input);
  if (extension === ".glb") writeOut(out, await writeGlb(character));
  else if (extension === ".json") writeOut(out, `${JSON.stringify(rootExtras(character), null, 2)}\n`);
  else writeMesh(character, deform(makeRig(character), { ...REST_MOMENT, drivers: false }, { normals: false }).positions, out);
  return 0;
}
