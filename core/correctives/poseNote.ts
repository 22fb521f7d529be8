import { z } from "zod";
import type { Moment } from "../evaluate/moment";

/**
 * What a posed file says of itself in its head, so that a sculpt of it can be told from one of another pose
 * (docs/formats.md).
 */
const MARK = "yxomorph posed ";
const angles = z.tuple([z.number(), z.number(), z.number()]);
const noteSchema = z.object({
  pose: z.record(z.string(), angles),
  weights: z.record(z.string(), z.number()),
  method: z.enum(["linear", "dual"]),
  drivers: z.boolean(),
});
export type PoseNote = z.infer<typeof noteSchema>;

/** Bytes of a file's head in which the note is looked for. */
const HEAD = 65_536;
/** Turns and weights that differ by less are the same, degrees and shares. */
const SAME_DEGREES = 0.05;
const SAME_WEIGHT = 5e-4;

const turned = (pose: Moment["pose"]): Record<string, [number, number, number]> =>
  Object.fromEntries(
    Object.entries(pose)
      .filter(([, a]) => a.some((x) => Math.abs(x) > SAME_DEGREES))
      .map(([j, a]) => [j, [...a] as [number, number, number]]),
  );
const set = (weights: Moment["weights"]): Record<string, number> =>
  Object.fromEntries(Object.entries(weights).filter(([, w]) => Math.abs(w) > SAME_WEIGHT));

/** The line for a posed file's head. */
export const poseNote = ({ pose, weights, method, drivers }: Moment): string =>
  MARK + JSON.stringify({ pose: turned(pose), weights: set(weights), method, drivers } satisfies PoseNote);

/** What a file's head says of its pose; null when it says nothing, as when another program wrote it again. */
export function readPoseNote(bytes: Uint8Array): PoseNote | null {
  const line = new TextDecoder()
    .decode(bytes.subarray(0, HEAD))
    .split(/\r?\n/)
    .find((l) => l.startsWith("#") && l.includes(MARK));
  if (line === undefined) return null;
  try {
    const read = noteSchema.safeParse(JSON.parse(line.slice(line.indexOf(MARK) + MARK.length)));
    return read.success ? read.data : null;
  } catch {
    return null;
  }
}

/** How a moment differs from what a note says, in words; null where they are the same. */
export function poseDifference(note: PoseNote, moment: Moment): string | null {
  const [there, here] = [turned(note.pose), turned(moment.pose)];
  const joint = [...new Set([...Object.keys(there), ...Object.keys(here)])].find((j) =>
    [0, 1, 2].some((c) => Math.abs((there[j]?.[c] ?? 0) - (here[j]?.[c] ?? 0)) > SAME_DEGREES),
  );
  const words = (pose: Record<string, [number, number, number]>, j: string): string =>
    pose[j] ? `${j} turned ${pose[j].map((x) => Number(x.toFixed(1))).join(", ")} degrees` : `${j} at rest`;
  if (joint !== undefined)
    return (
      `it was sent out with ${words(there, joint)}, and ${joint} ` +
      `${here[joint] ? `stands at ${here[joint].map((x) => Number(x.toFixed(1))).join(", ")}` : "is at rest"} now`
    );
  const [w, v] = [set(note.weights), set(moment.weights)];
  const shape = [...new Set([...Object.keys(w), ...Object.keys(v)])].find(
    (n) => Math.abs((w[n] ?? 0) - (v[n] ?? 0)) > SAME_WEIGHT,
  );
  if (shape !== undefined) return `it was sent out with ${shape} at ${w[shape] ?? 0}, and that is ${v[shape] ?? 0} now`;
  if (note.method !== moment.method)
    return `it was sent out under ${note.method === "dual" ? "dual quaternion" : "linear"} skinning`;
  return note.drivers === moment.drivers ? null : `it was sent out with correctives ${note.drivers ? "on" : "off"}`;
}
