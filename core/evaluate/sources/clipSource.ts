import { conjugate, multiplyQuat, normalizeQuat, slerp } from "../../math/quat";
import type { Quat, Vec3 } from "../../math/vec3";
import type { Character, Clip, ClipTrack } from "../../model/character";
import { jointIndexOf } from "../../model/jointIndex";
import type { MomentSource } from "../moment";
import { readyShapes } from "../drivers/readyDrivers";
import { sampleTrack, sampleWeight } from "../sampleTrack";
import { setTurn, turnOf } from "../turns";
import type { LayOver } from "./sourceKind";

interface Played {
  readonly rotations: readonly (readonly [number, ClipTrack])[];
  readonly translations: readonly (readonly [number, ClipTrack])[];
}
const known = new WeakMap<Character, WeakMap<Clip, Played>>();

function playedOf(character: Character, clip: Clip): Played {
  const clips = known.get(character) ?? new WeakMap<Clip, Played>();
  known.set(character, clips);
  const found = clips.get(clip);
  if (found) return found;
  const index = character.skeleton ? jointIndexOf(character.skeleton) : new Map<string, number>();
  const of = (path: ClipTrack["path"]): [number, ClipTrack][] =>
    clip.tracks.flatMap((t): [number, ClipTrack][] => {
      const joint = t.path === path ? index.get(t.joint) : undefined;
      return joint === undefined ? [] : [[joint, t]];
    });
  const played = { rotations: of("rotation"), translations: of("translation") };
  clips.set(clip, played);
  return played;
}

/**
 * A clip at a moment: turns of every joint that it names, and how far the pelvis travels. Keys that would change the
 * length of other joints, and keys of scale, are not played.
 */
export const layClip: LayOver<MomentSource & { kind: "clip" }> = (
  { clip, seconds, travellers, share = 1 },
  character,
  draft,
) => {
  const { skeleton } = character;
  if (!skeleton || share <= 0) return;
  const { rotations, translations } = playedOf(character, clip);
  for (const [j, track] of rotations) {
    const key = normalizeQuat(sampleTrack(track, seconds) as Quat);
    const turn = multiplyQuat(conjugate(skeleton.joints[j]!.rotation), key);
    setTurn(draft.turns, j, share < 1 ? slerp(turnOf(draft.turns, j), turn, share) : turn);
  }
  for (const [j, track] of translations) {
    if (!travellers.includes(skeleton.joints[j]!.name)) continue;
    const at = sampleTrack(track, seconds) as Vec3;
    const rest = skeleton.joints[j]!.translation;
    draft.travels = true;
    for (let c = 0; c < 3; c++) {
      const old = draft.travel[3 * j + c]!;
      draft.travel[3 * j + c] = old + share * (at[c]! - rest[c]! - old);
    }
  }
  if (!clip.weights) return;
  const { shapeIndex } = readyShapes(character);
  for (const track of clip.weights) {
    const shape = shapeIndex.get(track.shape);
    if (shape !== undefined) draft.weights[shape]! += share * sampleWeight(track, seconds);
  }
};
