import { z } from "zod";
import { clipRate, clipSeconds } from "../../core/clips/motion";
import { weightsTable } from "../../core/clips/weightsTable";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { UserError } from "../../core/model/userError";
import { job } from "../job";

/** A clip alone as a file: BVH text, a GLB of the joints and the clip, or its weights of shapes as a table. */
export const clipFile = job({
  input: z.object({ clip: z.string(), kind: z.enum(["bvh", "glb", "csv"]) }),
  async run({ character }, { clip: name, kind }): Promise<string | Uint8Array> {
    const { skeleton } = character;
    const clip = character.clips.find((c) => c.name === name);
    if (clip && kind === "csv") return weightsTable(clip.weights ?? [], clipSeconds(clip));
    if (!clip || !skeleton) throw new UserError(`There is no clip named ${name}.`, "", "Choose another.");
    if (kind === "bvh") return writeBvh(skeleton, clip, { fps: clipRate(clip) });
    const bare = { parts: [], materials: [], shapes: [], drivers: [], shapeDrivers: [], mixes: [], clips: [clip] };
    return writeGlb({ ...character, ...bare });
  },
});
