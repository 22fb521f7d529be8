import { z } from "zod";

/**
 * The tracking stream: JSON messages over a WebSocket, one object a message. The sender opens with `hello`, then sends
 * `frame`s; the receiver may send `play`, `pause` and `seek`. Times are seconds since the take began; angles are
 * degrees, the head's right-handed about +x right..left, +y up, +z forward.
 */
export const PROTOCOL_VERSION = 1;

/** Channels that are read at most. */
export const MOST_CHANNELS = 500;
/** A value beyond this is no amount of a movement, in whatever unit. */
const MOST_VALUE = 1000;
const seconds = z.number().min(0).finite();
const angle = z.number().min(-180).max(180);

export const helloSchema = z.object({
  type: z.literal("hello"),
  version: z.literal(PROTOCOL_VERSION),
  source: z.string().min(1).max(100),
  take: z.string().max(100),
  rate: z.number().positive().max(240),
  seconds,
  /** Names of whatever is measured, in the sender's own words; values 0..1 as a rule. */
  channels: z.array(z.string().min(1).max(120)).max(MOST_CHANNELS),
  /** Takes that can be asked for; a sender that is live has none. */
  takes: z.array(z.string().max(100)).max(100).optional(),
});
export const frameSchema = z.object({
  type: z.literal("frame"),
  index: z.number().int().min(0),
  time: seconds,
  /** Values in the order of hello's channels; null for a frame in which the face was lost. */
  values: z.array(z.number().min(-MOST_VALUE).max(MOST_VALUE)).max(MOST_CHANNELS).nullable(),
  /** Head: pitch (down positive), yaw (to the figure's left positive), roll. Null where it is not measured. */
  head: z.tuple([angle, angle, angle]).nullish(),
  /** Gaze: yaw (to the left positive) and pitch (down positive) of both eyes, in the head. */
  gaze: z.tuple([angle, angle]).nullish(),
});
export const endSchema = z.object({ type: z.literal("end"), frames: z.number().int().min(0) });
export const senderMessageSchema = z.discriminatedUnion("type", [helloSchema, frameSchema, endSchema]);
export const receiverMessageSchema = z.discriminatedUnion("type", [
  z.object({ type: z.literal("play"), take: z.string().max(100).optional() }),
  z.object({ type: z.literal("pause") }),
  z.object({ type: z.literal("seek"), time: seconds }),
]);
export type Hello = z.infer<typeof helloSchema>;
export type Frame = z.infer<typeof frameSchema>;
export type SenderMessage = z.infer<typeof senderMessageSchema>;
export type ReceiverMessage = z.infer<typeof receiverMessageSchema>;
