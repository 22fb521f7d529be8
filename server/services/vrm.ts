import { readGlb } from "../../core/formats/glb/readGlb";
import { writeVrm } from "../../core/formats/vrm/writeVrm";

/** A handed-off GLB as VRM 1.0, with humanoid bones, expressions and look-at, in a T pose. @throws UserError when a required bone is not mapped. */
export const vrmOf = async (glb: Uint8Array, name: string): Promise<Uint8Array> => writeVrm({ ...(await readGlb(glb, `${name}.glb`)), name });
