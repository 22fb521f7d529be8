import { z } from "zod";
import { proposeMuscles as propose, type ProposedMuscle } from "../../core/correctives/proposeMuscles";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { job } from "../job";

/** Bellies of muscles with what drives them; none where all are there or nothing is mapped. */
export const proposeMuscles = job({
  input: z.object({ amount: z.number().min(0.01).max(0.5) }),
  run: async ({ character, motions }, { amount }): Promise<ProposedMuscle[]> =>
    character.skeleton ? propose(character, humanoidMap(character.skeleton, character.jointMap), motions, amount) : [],
});
