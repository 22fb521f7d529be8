import { z } from "zod";
import type { FaceReading } from "../../core/measure/faceGauge";
import { job } from "../job";

/** The face at mixes of weights, with what they drive. */
export const faces = job({
  input: z.object({ mixes: z.array(z.record(z.string(), z.number())) }),
  run: ({ face }, { mixes }): FaceReading[] => mixes.map((m) => face().read(new Map(Object.entries(m)))),
});
