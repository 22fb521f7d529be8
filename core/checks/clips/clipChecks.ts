import { dropLastKey } from "../../edits/mend/mendClip";
import { mendClip } from "../../edits/mend/mendClip";
import { amount, check } from "../check";
import { keysOf } from "../../clips/keysOf";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { degrees } from "../../math/vec3";
import type { Character, ClipTrack } from "../../model/character";
import { finding, type Finding } from "../finding";

const apart = (a: ArrayLike<number>, b: ArrayLike<number>): number => Math.hypot(...Array.from(a, (x, i) => x - b[i]!));
/** Angle between two unit quaternions, degrees; from their chord, which keeps its digits for small angles. */
function turn(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let plus = 0;
  let minus = 0;
  for (let i = 0; i < 4; i++) {
    plus += (a[i]! + b[i]!) ** 2;
    minus += (a[i]! - b[i]!) ** 2;
  }
  return degrees(4 * Math.asin(Math.min(1, Math.sqrt(Math.min(plus, minus)) / 2)));
}

const perTrack = (
  character: Character,
  path: ClipTrack["path"],
  run: (clip: string, track: ClipTrack) => Finding[],
): Finding[] =>
  character.clips.flatMap((clip) => clip.tracks.filter((t) => t.path === path).flatMap((t) => run(clip.name, t)));

const UNIT_SCALE = 1e-3;

/** Keys that scale a joint. */
export const clipScaleKeys = check({
  id: "clip.scale-keys",
  title: "Keys that scale joints",
  station: "intake",
  unit: "%",
  measures: "keys that scale a joint",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "common practice, no source",
  mend: {
    says: (f) => `Removes the scale keys of ${f.joint} from ${f.clip}.`,
    apply: (c, f) => mendClip(c, f.clip!, (t) => !(t.path === "scale" && t.joint === f.joint)),
  },
  run: (character) =>
    perTrack(character, "scale", (clip, track) => {
      const keys = keysOf(track);
      let worst = 0;
      for (let k = 0; k < keys.count; k++) worst = Math.max(worst, ...Array.from(keys.at(k), (x) => Math.abs(x - 1)));
      return worst > UNIT_SCALE
        ? [
            finding({
              check: "clip.scale-keys",
              severity: "warn",
              clip,
              joint: track.joint,
              value: 100 * worst,
              unit: "%",
              limit: 0,
              message: `${clip} scales ${track.joint} by up to ${(100 * worst).toFixed(1)} %; remove the scale keys.`,
            }),
          ]
        : [];
    }),
});

/** Keys that move a joint other than the hips or a root away from its parent: bones change length. */
export const clipTranslationKeys = check({
  id: "clip.translation-keys",
  title: "Keys that change the length of bones",
  station: "intake",
  unit: "mm",
  measures: "keys that move a joint other than hips and root",
  severity: "warn",
  limits: {},
  limitWords: "0",
  source: "common practice, no source",
  mend: {
    says: (f) => `Removes the translation keys of ${f.joint} from ${f.clip}.`,
    apply: (c, f) => mendClip(c, f.clip!, (t) => !(t.path === "translation" && t.joint === f.joint)),
  },
  run: (character) => {
    const { skeleton } = character;
    if (!skeleton) return [];
    const hips = humanoidMap(skeleton, character.jointMap).jointOfBone.get("hips");
    return perTrack(character, "translation", (clip, track) => {
      const j = skeleton.joints.findIndex((x) => x.name === track.joint);
      if (j < 0 || j === hips || skeleton.joints[j]!.parent < 0) return [];
      const keys = keysOf(track);
      let worst = 0;
      for (let k = 0; k < keys.count; k++) worst = Math.max(worst, apart(keys.at(k), skeleton.joints[j]!.translation));
      return worst > 1e-3
        ? [
            finding({
              check: "clip.translation-keys",
              severity: "warn",
              clip,
              joint: track.joint,
              value: 1000 * worst,
              unit: "mm",
              limit: 0,
              message:
                `${clip} moves ${track.joint} ${(1000 * worst).toFixed(1)} ` +
                "mm from its place; keep rotation keys only.",
            }),
          ]
        : [];
    });
  },
});

/** A last key that repeats the one before it, or comes back to the first with a jump: the loop stutters. */
export const clipLoop = check({
  id: "clip.loop",
  title: "Ends of looping clips",
  station: "intake",
  unit: "deg",
  measures: "a last key that stands twice; a pose that comes back nearly but not quite",
  severity: "warn",
  limits: { "clip.loop": amount(2) },
  source: "our own choice: 2 degrees",
  mend: {
    says: (f) =>
      f.limit === 0 ? `Drops the last key of every track of ${f.clip}, which repeats the one before it.` : null,
    apply: (c, f) => dropLastKey(c, f.clip!),
  },
  run: (character, { limits }) => {
    const limit = limits["clip.loop"];
    if (limit === null) return [];
    return character.clips.flatMap((clip) => {
      const turns = clip.tracks.filter((t) => t.path === "rotation" && t.times.length > 2);
      if (!turns.length) return [];
      let doubled = true;
      let moving = false;
      let jump = 0;
      let joint = turns[0]!.joint;
      for (const track of turns) {
        const keys = keysOf(track);
        const last = keys.count - 1;
        doubled &&= turn(keys.at(last), keys.at(last - 1)) < 1e-3;
        moving ||= turn(keys.at(0), keys.at(1)) > 1e-2;
        const gap = turn(keys.at(0), keys.at(last));
        if (gap > jump) {
          jump = gap;
          joint = track.joint;
        }
      }
      if (doubled && moving)
        return [
          finding({
            check: "clip.loop",
            severity: "warn",
            clip: clip.name,
            value: 1,
            unit: "keys",
            limit: 0,
            message:
              `${clip.name} ends with the same pose twice: its ` +
              "loop will stand still for a frame. Drop the last key.",
          }),
        ];
      // a clip that comes back nearly, but not quite, was meant to loop
      if (jump > limit && jump < 5 * limit)
        return [
          finding({
            check: "clip.loop",
            severity: "warn",
            clip: clip.name,
            joint,
            value: jump,
            unit: "deg",
            limit,
            message: `${clip.name} ends ${jump.toFixed(1)} degrees from where it began at ${joint}; its loop jumps.`,
          }),
        ];
      return [];
    });
  },
});
