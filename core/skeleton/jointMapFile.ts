import { z } from "zod";
import { schemaFault } from "../model/schemaWords";
import { parseJsonText } from "../model/parseJsonText";
import { UserError } from "../model/userError";
import { matchFewByWords } from "../names/matchByWords";
import { HUMANOID_BONES } from "../names/humanoidBones";
import type { HumanoidMap } from "./humanoidMap";
import type { Skeleton } from "../model/character";

/** A joint map as a file, to be used again on characters whose joints have the same names (docs/formats.md). */
const jointMapFileSchema = z.object({
  format: z.literal("yxomorph joint map"),
  version: z.literal(1),
  /** VRM 1.0 humanoid bone -> joint. */
  bones: z.record(z.string(), z.string()),
});
export type JointMapFile = z.infer<typeof jointMapFileSchema>;

export const writeJointMap = (skeleton: Skeleton, map: HumanoidMap): JointMapFile => ({
  format: "yxomorph joint map",
  version: 1,
  bones: Object.fromEntries(
    HUMANOID_BONES.flatMap((bone) => {
      const j = map.jointOfBone.get(bone);
      return j === undefined ? [] : [[bone, skeleton.joints[j]!.name]];
    }),
  ),
});

export interface ReadJointMap {
  /** Joint -> bone, for joints that this skeleton has. */
  readonly map: Readonly<Record<string, string>>;
  /** Joints of the file that are not here. */
  readonly missing: readonly string[];
}

/**
 * Reads a joint map for a skeleton. @throws UserError for another kind of file, an unknown bone, or when none of its
 * joints is here.
 */
export function readJointMap(text: string, file: string, skeleton: Skeleton): ReadJointMap {
  const read = jointMapFileSchema.safeParse(
    parseJsonText(text, file, "This is not JSON.", "Choose a joint map that was saved here."),
  );
  if (!read.success) {
    const { what, where } = schemaFault(read.error);
    throw new UserError(
      `This is not a joint map: ${what}.`,
      `${file}, ${where}`,
      "Choose a joint map that was saved here.",
    );
  }
  const strange = Object.keys(read.data.bones).find((b) => !HUMANOID_BONES.includes(b));
  if (strange !== undefined)
    throw new UserError(`${strange} is no humanoid bone of VRM 1.0.`, file, "Correct its name.");
  const entries = Object.entries(read.data.bones);
  // the same words count, whatever prefix either side has; a joint is taken once
  const called = matchFewByWords(
    entries.map(([, joint]) => joint),
    skeleton.joints.map((j) => j.name),
  );
  const taken = new Set<string>();
  const found = entries.filter(
    ([, joint]) => called.has(joint) && !taken.has(called.get(joint)!) && taken.add(called.get(joint)!),
  );
  const missing = entries.filter((e) => !found.includes(e)).map(([, joint]) => joint);
  if (found.length === 0)
    throw new UserError(
      "None of its joints is in this skeleton.",
      file,
      "Use it on a character with the same joint names.",
    );
  return { map: Object.fromEntries(found.map(([bone, joint]) => [called.get(joint)!, bone])), missing };
}
