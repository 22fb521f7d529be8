import { z } from "zod";
import type { Character } from "../../model/character";
import { takeTextures } from "../../edits/textures/madeTextures";
import { hash, type ApplyTools } from "./operation";

/** Textures that a step made, by material: kept with it when it is taken, for making them again takes long. */
export const madeSchema = z.array(z.object({ material: z.number().int().min(0), blob: hash })).max(5000);
type Made = z.infer<typeof madeSchema>;

export const takeMade = (character: Character, made: Made, { blob }: ApplyTools): Character =>
  takeTextures(
    character,
    made.map((m) => ({ material: m.material, bytes: blob(m.blob) })),
  );
export const madeBlobs = ({ made = [] }: { readonly made?: Made | undefined }): string[] => made.map((m) => m.blob);
/** On another delivery textures are made anew, of its own. */
export const withoutMade = <T extends { made?: unknown }>({ made: _, ...step }: T): Omit<T, "made"> => step;
