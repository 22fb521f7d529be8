import { playClip } from "../clips/playClip";
import { REST_MOMENT, type Moment, type MomentSource } from "../evaluate/moment";
import type { Vec3 } from "../math/vec3";
import type { Character } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { carriageOf, turnAngles } from "./carryKeys";
import { valueAt } from "./keyCurve";
import { shownLine, speechMoment } from "./spokenLines";
import { takeMoment } from "./takeMoment";
import { LANES } from "./lanes";
import { shareAt, type Keys, type Piece, type Trial } from "./trial";

/** What a piece does to a character at a moment of the ruler; null where it says nothing. */
function sourceOf(character: Character, trial: Trial, piece: Piece, at: number, heard: Trial): MomentSource | null {
  const share = shareAt(piece, at);
  if (share <= 0) return null;
  const own = piece.from + (at - piece.start) * piece.speed;
  if (piece.kind === "keys") return { kind: "set", ...keysAt(character, piece.keys, own), share };
  if (piece.kind === "line") {
    const spoken = shownLine(character, trial, piece);
    return spoken && { ...speechMoment(spoken, own), share };
  }
  if (piece.kind === "take") return { ...takeMoment(character, heard, piece, at, own), share };
  const clip = character.clips.find((c) => c.name === piece.clip);
  return clip ? playClip(character, clip, own, share) : null;
}

/** Angles, weights and the hips' way that keys give a character at a moment of their own. */
export function keysAt(
  character: Character,
  keys: Keys,
  seconds: number,
): Pick<MomentSource & { kind: "set" }, "pose" | "weights" | "travel"> {
  const { skeleton, jointMap } = character;
  const { joints, shapes, hips } = keys;
  const way = carriageOf(character, keys);
  const pose = Object.fromEntries(
    Object.entries(joints).map(([name, curve]) => {
      const { to, change } = way.joint(name);
      const angles = valueAt(curve, 3, seconds) as unknown as Vec3;
      return [to, change ? turnAngles(angles, change) : angles];
    }),
  );
  const weights = Object.fromEntries(
    Object.entries(shapes).map(([name, curve]) => [way.shape(name), valueAt(curve, 1, seconds)[0]!]),
  );
  // the pelvis is looked up only where it is keyed: this runs at every frame
  const pelvis = hips && skeleton ? humanoidMap(skeleton, jointMap).jointOfBone.get("hips") : undefined;
  if (!hips || !skeleton || pelvis === undefined) return { pose, weights };
  const by = (valueAt(hips, 3, seconds) as unknown as Vec3).map((v) => v * way.hips) as unknown as Vec3;
  return { pose, weights, travel: { joint: skeleton.joints[pelvis]!.name, by } };
}

/**
 * What plays at a moment of the ruler: the pieces of every lane, lane over lane, each over the ones before it. A clip
 * that the character does not have plays nothing.
 * @param heard the trial whose lines a take's lips give way to, where they are not played themselves.
 */
export const sourcesAt = (character: Character, trial: Trial, seconds: number, heard = trial): MomentSource[] =>
  LANES.flatMap((lane) => trial.lanes[lane].flatMap((p) => sourceOf(character, trial, p, seconds, heard) ?? []));

/** The moment that a trial asks of a character. @param drivers whether correctives act. */
export const momentAt = (character: Character, trial: Trial, seconds: number, drivers = true): Moment => ({
  ...REST_MOMENT,
  drivers,
  method: trial.method,
  sources: sourcesAt(character, trial, seconds),
});

/** Clips that a trial names and a character does not have. */
export const missingClips = ({ clips }: Character, trial: Trial): string[] => {
  const here = new Set(clips.map((c) => c.name));
  const named = LANES.flatMap((lane) => trial.lanes[lane].flatMap((p) => (p.kind === "clip" ? [p.clip] : [])));
  return [...new Set(named)].filter((n) => !here.has(n));
};
