import { z } from "zod";

/**
 * The tracking stream: JSON messages over a WebSocket, one object a message. The sender opens with `hello`, then sends
 * `frame`s; the receiver may send `play`, `pause` and `seek`. Times are seconds since the take began; angles are
 * degrees, the head's right-handed about +x right..left, +y up, +z forward.
 */
export const PROTOCOL_VERSION = 1;

/** Channel names are FACS action units with an optional side, `AU12_left`; values 0..1. */
const channel = z
  .string()
  .regex(
    /^AU\d{1,2}(_(left|right))?$|^tongue_[a-z_]+$/,
    "a channel is an action unit such as AU12_left, or a tongue channel",
  );
const seconds = z.number().min(0).finite();
const angle = z.number().min(-180).max(180);

export const helloSchema = z.object({
  type: z.literal("hello"),
  version: z.literal(PROTOCOL_VERSION),
  source: z.string().min(1).max(100),
  take: z.string().max(100),
  rate: z.number().positive().max(240),
  seconds,
  channels: z.array(channel).max(200),
});
export const frameSchema = z.object({
  type: z.literal("frame"),
  index: z.number().int().min(0),
  time: seconds,
  /** Values in the order of hello's channels; null for a frame in which the face was lost. */
  values: z.array(z.number().min(-0.5).max(1.5)).nullable(),
  /** Head: pitch (down positive), yaw (to the figure's left positive), roll. Gaze: yaw and pitch of both eyes. */
  head: z.tuple([angle, angle, angle]),
  gaze: z.tuple([angle, angle]),
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
