import { readGlb } from "../../core/formats/glb/readGlb";
import { addVrm } from "../../core/formats/vrm/writeVrm";

/** A handed-off GLB as VRM 1.0: the same geometry, with humanoid bones, expressions and look-at. @throws UserError when a required bone is not mapped. */
export const vrmOf = async (glb: Uint8Array, name: string): Promise<Uint8Array> => addVrm(glb, { ...(await readGlb(glb, `${name}.glb`)), name });
