import { z } from "zod";
import type { Vec3 } from "../../core/math/vec3";
import { proposedOn } from "../../core/wrap/openScan";
import type { FaceLandmark } from "../../core/measure/faceLandmarks";
import { place, plainMesh, similarity } from "../inputs";
import { job } from "../job";

/** Landmarks proposed anew on a scan, beside those that are known, in the scan's own coordinates. */
export const proposePlaces = job({
  input: z.object({
    mesh: plainMesh,
    place: similarity,
    landmarks: z.array(z.custom<FaceLandmark>((l) => typeof (l as FaceLandmark | null)?.id === "string")),
    known: z.record(z.string(), place),
  }),
  run: async ({ character }, { mesh, place: at, landmarks, known }, tick): Promise<(Vec3 | null)[]> => [
    ...(await proposedOn(character, mesh, at, landmarks, new Map(Object.entries(known)), tick)).places,
  ],
});
