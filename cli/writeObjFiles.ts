import path from "node:path";
import { writeLibrary } from "../core/formats/obj/materialLibrary";
import { lineName, writeObj } from "../core/formats/obj/writeObj";
import type { Character } from "../core/model/character";
import { writeOut } from "./writeOut";

/** Writes a mesh with its material library and images beside it. @param positions per part, metres. */
export function writeObjBesideLibrary(
  character: Character,
  positions: readonly Float32Array[],
  folder: string,
  name: string,
): void {
  const own = name.replace(/\s+/g, "_");
  const library = `${own}.mtl`;
  const { files, leftOut } = writeLibrary(character, own, (m) => lineName(m.name));
  if (leftOut.length)
    process.stderr.write(`OBJ has no place for ${leftOut.length} textures: ${leftOut.slice(0, 3).join(", ")}\n`);
  writeOut(path.join(folder, `${name}.obj`), writeObj(character, positions, library));
  for (const f of files) writeOut(path.join(folder, f.name), f.data);
}
