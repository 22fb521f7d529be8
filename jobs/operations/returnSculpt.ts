import { z } from "zod";
import { takeSculpt, type TakenSculpt } from "../../core/correctives/takeSculpt";
import { file, moment } from "../inputs";
import { job } from "../job";

/** Returns a sculpted OBJ of the moment to rest. */
export const returnSculpt = job({
  input: z.object({ moment, file }),
  run: ({ rig }, { moment: at, file: sculpt }): TakenSculpt => takeSculpt(rig, at, sculpt.bytes, sculpt.name),
});
