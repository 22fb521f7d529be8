import { z } from "zod";
import { writeWithoutShapes, type PosesProved } from "../../core/ledger/provePoses";
import { job } from "../job";

/** A GLB without shapes, those at work in its rest places, proved to hold the same poses. */
export const plainFigure = job({
  input: z.object({ weights: z.record(z.string(), z.number()) }),
  run: ({ character }, { weights }, tick): Promise<{ glb: Uint8Array; proved: PosesProved }> =>
    writeWithoutShapes(character, weights, tick),
});
