import { z } from "zod";
import { rebind } from "../../core/skeleton/rebind";
import { rebindError, type RebindError } from "../../core/measure/rebindError";
import { place } from "../inputs";
import { job } from "../job";

/** How far a binding in a pose would differ from the present one. */
export const rebinding = job({
  input: z.object({ pose: z.record(z.string(), place) }),
  run: ({ character }, { pose }, tick): Promise<RebindError> =>
    rebindError(character, rebind(character, pose), pose, tick),
});
