import { z } from "zod";
import { handEditSchema } from "../speech/handEdits";
import { mannerSchema, PLAIN_MANNER } from "../speech/manner";
import { spokenLineSchema } from "../speech/spokenLineSchema";
import { channelMapSchema } from "../tracking/channelMap";
import { recordedFaceSchema } from "../tracking/recordedFace";
import { PLAIN_STEADY, steadySchema } from "../tracking/steadyFace";
import { LANES, type Lane } from "./lanes";
import { smoothStep } from "../math/smoothStep";

export const RATES = [24, 25, 30, 60] as const;

const seconds = z.number().min(0).max(3600);
/** What every piece has: where it stands on the ruler, how it fades, how much of it counts. */
const placed = {
  id: z.string().min(1).max(60),
  start: seconds,
  /** The stretch of it that plays, seconds of its own. */
  from: seconds.default(0),
  to: seconds,
  speed: z.number().min(0.1).max(10).default(1),
  fadeIn: seconds.default(0),
  fadeOut: seconds.default(0),
  share: z.number().min(0).max(1).default(1),
  on: z.boolean().default(true),
};

export const EASES = ["smooth", "straight", "stepped"] as const;
const times = z.array(seconds).max(20_000);
const curve = z
  .object({ ease: z.enum(EASES).default("smooth"), times, values: z.array(z.number()).max(60_000) })
  .refine(({ times }) => times.every((t, i) => i === 0 || t > times[i - 1]!), "keys must stand in order of time");
/**
 * Keys of one's own: angles of joints (three a key, degrees), weights of shapes (one a key), the hips' way (three a
 * key, metres).
 */
export const keysSchema = z.object({
  joints: z.record(z.string().min(1).max(200), curve),
  shapes: z.record(z.string().min(1).max(200), curve),
  hips: curve.nullable().default(null),
  /**
   * By joint: the bone it is on the character that it was keyed on, its turn in character space (xyzw) and its height
   * in metres there at rest.
   */
  frames: z
    .record(
      z.string().min(1).max(200),
      z.object({
        bone: z.string().max(60),
        rest: z.tuple([z.number(), z.number(), z.number(), z.number()]),
        height: z.number(),
      }),
    )
    .optional(),
});
export type Keys = z.infer<typeof keysSchema>;
export type Curve = z.infer<typeof curve>;

const clipKind = z.object({ kind: z.literal("clip"), clip: z.string().min(1).max(200), ...placed });
const keysPiece = z.object({
  kind: z.literal("keys"),
  name: z.string().max(200).default("keys"),
  keys: keysSchema,
  ...placed,
});
/** A spoken line: how it was made, what it is, and what was changed by hand. */
const linePiece = z.object({
  kind: z.literal("line"),
  name: z.string().max(200).default("line"),
  /** The text it was made from, and the voice; no voice for a recording. Null where phones came from a file. */
  said: z
    .object({
      text: z.string().max(5000),
      voice: z.string().max(40).nullable(),
      pace: z.number().min(0.5).max(2).default(1),
    })
    .nullable()
    .default(null),
  /** sha256 of its sound, a WAV. */
  sound: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable()
    .default(null),
  line: spokenLineSchema,
  hand: z.array(handEditSchema).max(10_000).default([]),
  /** By viseme: weight that is added by hand, at times of the line. */
  curves: z.record(z.string().regex(/^([1-9]|1[0-4])$/), curve).default({}),
  manner: mannerSchema.default(PLAIN_MANNER),
  ...placed,
});
/** A recorded face: what was measured, steadied and with few keys, and how it moves a character. */
const takePiece = z.object({
  kind: z.literal("take"),
  name: z.string().max(200).default("take"),
  /** sha256 of the take as it came, a table: it can be steadied anew. */
  raw: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .nullable()
    .default(null),
  face: recordedFaceSchema,
  steady: steadySchema.default(PLAIN_STEADY),
  map: channelMapSchema,
  /** How much of what it does with the lips stays while a line is spoken over it. */
  mouth: z.number().min(0).max(1).default(0.25),
  ...placed,
});
export const pieceSchema = z.discriminatedUnion("kind", [clipKind, keysPiece, linePiece, takePiece]);
export type Piece = z.infer<typeof pieceSchema>;
export type TakePiece = Extract<Piece, { kind: "take" }>;
export type LinePiece = Extract<Piece, { kind: "line" }>;
export const nameOf = (p: Piece): string => (p.kind === "clip" ? p.clip : p.name);

/** Pieces that a lane holds at most. */
export const MOST_PIECES = 200;
const lane = z.array(pieceSchema).max(MOST_PIECES).default([]);
/** An arrangement of pieces on the lanes, played and measured on any version of any character. */
export const trialSchema = z.object({
  version: z.literal(1).default(1),
  name: z.string().min(1).max(200),
  fps: z.union([z.literal(24), z.literal(25), z.literal(30), z.literal(60)]).default(30),
  method: z.enum(["linear", "dual"]).default("linear"),
  lanes: z.object({ body: lane, face: lane, tracking: lane, speech: lane }),
});
export type Trial = z.infer<typeof trialSchema>;

export const emptyTrial = (name: string): Trial => trialSchema.parse({ name, lanes: {} });

/** The lane that a clip plays in: one that moves nothing but shapes moves the face. */
export const laneOfClip = (clip: { readonly tracks: readonly unknown[] }): Lane =>
  clip.tracks.length ? "body" : "face";

/** A whole clip where it begins on the ruler. @param seconds its length. */
export const clipPiece = (clip: string, seconds: number, start: number, id: string): Piece =>
  pieceSchema.parse({ kind: "clip", id: id.slice(0, 60), clip, start, to: seconds });

/** How long a piece plays on the ruler, seconds. */
export const lengthOf = (p: Pick<Piece, "from" | "to" | "speed">): number => Math.max(0, p.to - p.from) / p.speed;
export const endOf = (p: Piece): number => p.start + lengthOf(p);

/** Length of a trial: where its last piece ends, seconds. */
export const trialSeconds = (trial: Trial): number =>
  LANES.reduce((most, l) => trial.lanes[l].reduce((m, p) => Math.max(m, endOf(p)), most), 0);

/** Frames of a trial; the last stands at its end or just before. */
export const trialFrames = (trial: Trial): number => Math.floor(trialSeconds(trial) * trial.fps + 1e-6) + 1;

/** How much of a piece counts at a moment of the ruler, 0..1; 0 outside of it. */
export function shareAt(p: Piece, at: number): number {
  const gone = at - p.start;
  const long = lengthOf(p);
  if (!p.on || gone < -1e-9 || gone > long + 1e-9) return 0;
  const rise = p.fadeIn > 0 ? smoothStep(gone / p.fadeIn) : 1;
  const fall = p.fadeOut > 0 ? smoothStep((long - gone) / p.fadeOut) : 1;
  return p.share * Math.min(rise, fall);
}
