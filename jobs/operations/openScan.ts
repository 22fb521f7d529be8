import { z } from "zod";
import { openScan as open, type OpenedScan } from "../../core/wrap/openScan";
import { file } from "../inputs";
import { job } from "../job";

/** A scan to lay the skin on: where it stands, and where the face's landmarks are proposed on it. */
export const openScan = job({
  input: z.object({ file, fitSize: z.boolean() }),
  run: ({ character }, { file: scan, fitSize }, tick): Promise<OpenedScan> => open(character, scan, fitSize, tick),
});
