import { neutralsOf, proposeMap, type ChannelMap } from "../tracking/channelMap";
import { readFace, type FaceReadings } from "../tracking/faceReadings";
import { recordFace, TOLERANCE } from "../tracking/recordedFace";
import { PLAIN_STEADY, type Steady } from "../tracking/steadyFace";
import { steadied } from "../tracking/steadyTake";
import { secondsOf, type Take } from "../tracking/take";
import type { Character } from "../model/character";
import { pieceSchema, type TakePiece } from "./trial";

export interface TakeSettings {
  readonly map: ChannelMap;
  readonly steady: Steady;
  /** Most that keys may be off, of a channel's 1. */
  readonly tolerance: number;
}
/** How a take is laid on a character where nothing was said. */
export const PLAIN_SETTINGS = { steady: PLAIN_STEADY, tolerance: TOLERANCE };
export const plainSettings = (take: Take, character: Character): TakeSettings => ({
  map: proposeMap(take.channels, character),
  ...PLAIN_SETTINGS,
});

/** A whole take where it begins on the ruler: steadied, with as few keys as its tolerance allows. */
export const takePiece = (
  take: Take,
  { map, steady, tolerance }: TakeSettings,
  { start, id, raw = null, name = take.name }: { start: number; id: string; raw?: string | null; name?: string },
): TakePiece => {
  const face = recordFace(steadied(take, steady, neutralsOf(map, take.channels)), take, tolerance);
  return pieceSchema.parse({
    kind: "take",
    id: id.slice(0, 60),
    name: name.slice(0, 200),
    raw,
    face,
    steady,
    map,
    start,
    to: Math.min(3600, secondsOf(take)),
  }) as TakePiece;
};

/** Reads a take as it is laid on a character: range, noise, lag, what is lost or silent, and what to do. */
export const readTakeOn = (
  take: Take,
  { map, steady }: Omit<TakeSettings, "tolerance">,
  character: Character,
): FaceReadings => readFace(take, steadied(take, steady, neutralsOf(map, take.channels)), map, character);
