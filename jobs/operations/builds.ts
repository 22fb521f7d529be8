import { z } from "zod";
import { buildShapes, type BuildShape } from "../../core/edits/skeleton/refitJoints";
import { job } from "../job";

/** Shapes that change the build, and how far their joints are behind. */
export const builds = job({ input: z.object({}), run: ({ character }): BuildShape[] => buildShapes(character) });
