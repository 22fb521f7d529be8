import { z } from "zod";
import { poseNote } from "../../core/correctives/poseNote";
import { deform } from "../../core/deform/rig";
import { writeObj } from "../../core/formats/obj/writeObj";
import { moment } from "../inputs";
import { job } from "../job";

/** The moment as OBJ text, to be sculpted elsewhere. */
export const posedObj = job({
  input: z.object({ moment }),
  run: ({ character, rig }, { moment: at }): string =>
    writeObj(character, deform(rig, at, { normals: false }).positions, undefined, poseNote(at)),
});
