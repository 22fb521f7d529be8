import { writeFile } from "node:fs/promises";
import { readGlb } from "../../../core/formats/glb/readGlb";
import { writeVrm } from "../../../core/formats/vrm/writeVrm";
import { getBlob } from "../../blobs/blobStore";
import type { Db } from "../../db/connect";
import { notThere } from "../../refusals";

/**
 * Writes a handed-off GLB as VRM 1.0, with humanoid bones, expressions and look-at, in a T pose. @throws UserError when
 * a required bone is not mapped.
 */
export async function vrmFile(
  db: Db,
  { glbBlob, name, out }: { glbBlob: string; name: string; out: string },
): Promise<void> {
  const glb = await getBlob(db, glbBlob);
  if (!glb) throw notThere("This hand-off is not kept any more.");
  await writeFile(out, await writeVrm({ ...(await readGlb(glb, `${name}.glb`)), name }));
}
