import { z } from "zod";
import { encodeIdentity, type EncodedFace } from "../../core/ledger/encodeIdentity";
import { newIdentity } from "../../core/wrap/newIdentity";
import { deltas } from "../inputs";
import { job } from "../job";

/** Another face for the character, as a step carries it: joints, and with `carry` the shapes, made ready for it. */
export const newFace = job({
  input: z.object({ deltas, carry: z.boolean() }),
  run: async ({ character }, { deltas: moved, carry }, tick): Promise<EncodedFace> =>
    encodeIdentity(character, await newIdentity(character, moved, carry, tick)),
});
