import { z } from "zod";
import { clipRate } from "../../core/clips/motion";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { UserError } from "../../core/model/userError";
import { job } from "../job";

/** A clip alone as a file: BVH text, or a GLB of the joints and the clip. */
export const clipFile = job({
  input: z.object({ clip: z.string(), kind: z.enum(["bvh", "glb"]) }),
  async run({ character }, { clip: name, kind }): Promise<string | Uint8Array> {
    const { skeleton } = character;
    const clip = character.clips.find((c) => c.name === name);
    if (!clip || !skeleton) throw new UserError(`There is no clip named ${name}.`, "", "Choose another.");
    if (kind === "bvh") return writeBvh(skeleton, clip, { fps: clipRate(clip) });
    const bare = { parts: [], materials: [], shapes: [], drivers: [], shapeDrivers: [], mixes: [], clips: [clip] };
    return writeGlb({ ...character, ...bare });
  },
});
