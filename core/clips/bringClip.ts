import { AS_IT_CAME, NO_FITTING, type Fitting } from "../model/fitting";
import type { Character, Clip, Skeleton } from "../model/character";
import { boneLabel, REQUIRED_BONES } from "../names/humanoidBones";
import { conjugate, multiplyQuat } from "../math/quat";
import { NO_JOINT } from "../model/character";
import { humanoidMap } from "../skeleton/humanoidMap";
import { mapConfidence } from "../skeleton/mapConfidence";
import { readFeet } from "./contacts";
import { fitMotion } from "./fitMotion";
import { endsTwice, findLoop, withoutLast, type Loop } from "./loops";
import { clipOfMotion } from "./motion";
import type { SourceMotion } from "./sourceMotion";
import {
  sourcesOf,
  transferMotion,
  TRANSFER_DEFAULTS,
  type RestOf,
  type Transferred,
  type TransferSettings,
} from "./transferMotion";

/** A joint of the file whose bone is not certain: what it was taken for, and the joint that its place speaks for. */
export interface UnsureJoint {
  readonly joint: string;
  readonly bone: string;
  readonly rival: string | null;
}

/** What a clip of a file was found to be, and what was done to bring it here. */
export interface ClipReport {
  readonly joints: number;
  readonly frames: number;
  readonly seconds: number;
  /** Frames a second of the file, and as kept. */
  readonly fps: number;
  readonly keptFps: number;
  /** Metres in one unit of the file. */
  readonly unit: number;
  readonly up: string;
  readonly facing: string;
  readonly rest: string;
  readonly map: readonly { readonly source: string; readonly humanoid: string | null; readonly target: string }[];
  readonly unmapped: readonly string[];
  readonly leftOut: { readonly scaleKeys: number; readonly translationKeys: number };
  readonly unsure: readonly UnsureJoint[];
  /** Every joint of the file, for whoever is asked. */
  readonly jointNames: readonly string[];
  /** Where its ends meet, so that it can be played over and over. */
  readonly loop: Loop | null;
  /** Metres a second, worst in contact: as transferred, and fitted; null where feet are not known. */
  readonly slide: { readonly before: number; readonly after: number } | null;
  /** What was found and set right, as sentences. */
  readonly told: readonly string[];
}

export interface BroughtClip {
  /** On the character's joints, before it is fitted. */
  readonly clip: Clip;
  /** How it is fitted at first; null where its keys are taken as they are. */
  readonly fitting: Fitting | null;
  readonly report: ClipReport;
}

export interface BringSettings extends TransferSettings {
  readonly hold: boolean;
  readonly loop: boolean;
  readonly travel: Fitting["travel"];
}
export const BRING_DEFAULTS: BringSettings = { ...TRANSFER_DEFAULTS, hold: false, loop: false, travel: "kept" };

const restWord = (rest: RestOf): string => {
  if (rest === "file" || rest === "first") return rest;
  return rest.armsBelowLevel === 0 ? "T" : `A=${rest.armsBelowLevel}`;
};

/**
 * A movement of a file on the character's joints, with all that was found out about it. @throws UserError when nothing
 * fits.
 */
export function bringClip(
  character: Character,
  given: SourceMotion,
  name: string,
  settings: BringSettings = BRING_DEFAULTS,
): BroughtClip {
  const twice = endsTwice(given.motion);
  const source: SourceMotion = twice ? { ...given, motion: withoutLast(given.motion) } : given;
  const moved = transferMotion(character, source, settings);
  const { motion } = moved;
  const loop = findLoop(motion);
  const fitting: Fitting = {
    ...NO_FITTING,
    hold: settings.hold,
    travel: settings.travel,
    loop: settings.loop && loop ? { from: loop.from, to: loop.to } : null,
  };
  const asItCame = fitMotion(character, motion, AS_IT_CAME);
  const fitted = fitMotion(character, motion, fitting);
  const [before, after] = [
    fitted.contacts && readFeet(character, asItCame.motion, fitting.loop ? undefined : fitted.contacts),
    fitted.contacts && readFeet(character, fitted.motion, fitted.contacts),
  ];
  const used = new Set(moved.sources);
  const { skeleton: from } = source.motion;
  const told = [
    `${used.size - (used.has(-1) ? 1 : 0)} of its ${from.joints.length} joints move this character`,
    ...placeWords(moved, settings.rest === "file" && !character.retargetPose),
    ...sourceWords(source, given, twice),
    ...fitWords(moved, fitted.lifted, loop),
  ];
  return {
    clip: clipOfMotion(motion, name),
    fitting,
    report: {
      joints: from.joints.length,
      frames: given.fileFrames,
      seconds: (source.motion.frames - 1) / source.motion.fps,
      fps: given.fileFps,
      keptFps: motion.fps,
      unit: moved.unit,
      up: moved.alignment?.up ?? "+Y",
      facing: moved.alignment?.facing ?? "+Z",
      rest: restWord(settings.rest),
      map: mapOf(character, from, moved.sources),
      unmapped: from.joints.flatMap((j, i) => (used.has(i) ? [] : [j.name])),
      leftOut: { scaleKeys: given.scaled.joints, translationKeys: given.moved.joints },
      unsure: unsureOf(source),
      jointNames: from.joints.map((j) => j.name),
      loop: fitted.loop ?? loop,
      slide: before && after ? { before: before.slide, after: after.slide } : null,
      told,
    },
  };
}

/** Which of the file's joints moves which of the character's. */
function mapOf(character: Character, from: Skeleton, sources: readonly number[]): ClipReport["map"] {
  const skeleton = character.skeleton!;
  const own = humanoidMap(skeleton, character.jointMap);
  return skeleton.joints.flatMap(({ name }, j) => {
    const source = from.joints[sources[j]!]?.name;
    return source === undefined ? [] : [{ source, humanoid: own.boneOfJoint[j] ?? null, target: name }];
  });
}

/** How its figure stands, and its size beside the character. @param isByLimbs whether rests were laid together. */
const placeWords = ({ alignment, unit, restApart }: Transferred, isByLimbs: boolean): string[] => [
  ...(alignment?.told ?? []),
  ...(Math.abs(unit - 1) > 0.02 ? [`lengths x ${Number(unit.toPrecision(3))}`] : []),
  ...(restApart && isByLimbs
    ? [
        `at rest its ${boneLabel(restApart.bone)} stands ${Math.round(restApart.degrees)} degrees ` +
          "from here: brought together limb by limb",
      ]
    : []),
];

/** Where it was moved to, and whether it can go on and on. @param lifted metres. */
function fitWords({ motion, broughtHome }: Transferred, lifted: number, loop: Loop | null): string[] {
  const floor = motion.frames > 1 ? lifted : 0;
  return [
    ...(broughtHome > 0 ? [`it began ${broughtHome.toFixed(1)} m away: brought to the middle`] : []),
    ...(Math.abs(floor) > 0.01 ? [`${floor > 0 ? "raised" : "lowered"} ${mm(Math.abs(floor))} onto the floor`] : []),
    ...(loop ? [`its ends meet to ${loop.degrees.toFixed(1)} degrees: it can be looped`] : []),
  ];
}

const mm = (metres: number): string => `${Math.round(1000 * metres)} mm`;

function sourceWords(source: SourceMotion, given: SourceMotion, twice: boolean): string[] {
  const { scaled, moved, fileFps } = given;
  const kept = source.motion.fps;
  return [
    ...(twice ? ["its last frame stood twice: left out"] : []),
    ...(Math.abs(kept - fileFps) > 0.5 ? [`${round(fileFps)} frames a second, kept at ${round(kept)}`] : []),
    ...(scaled.joints > 0
      ? [
          `keys of scale of ${scaled.joints} joint${scaled.joints > 1 ? "s" : ""} left out ` +
            `(up to x ${Number(scaled.most.toPrecision(3))})`,
        ]
      : []),
    ...(moved.joints > 0
      ? [
          `keys of place of ${moved.joints} joint${moved.joints > 1 ? "s" : ""} left out: ` +
            `${moved.joint} would have become x ${Number(moved.longest.toPrecision(3))} as long`,
        ]
      : []),
  ];
}
const round = (fps: number): string => String(Number(fps.toFixed(2)));

/** Required bones whose joint rests on its place alone, or whose place says another joint than its name. */
function unsureOf({ motion, map }: SourceMotion): UnsureJoint[] {
  const grounds = mapConfidence(motion.skeleton);
  return [...map.jointOfBone].flatMap(([bone, joint]): UnsureJoint[] => {
    const found = grounds.get(bone);
    if (!found || !(REQUIRED_BONES as readonly string[]).includes(bone)) return [];
    if (found.ground !== "name against place") return [];
    const { joints } = motion.skeleton;
    return [{ joint: joints[joint]!.name, bone, rival: found.rival === null ? null : joints[found.rival]!.name }];
  });
}

/** Rests that agree to this are the same: half the angle's sine, and metres. */
const SAME_TURN = 5e-4;
const SAME_PLACE = 1e-3;

/**
 * A clip whose skeleton rests as the character's: its keys as they are, under the names that joints have here; keys of
 * scale, and of places that would draw bones out, are left out. Null where the rests differ or nothing fits.
 */
export function sameRestClip(character: Character, from: Skeleton, source: SourceMotion, clip: Clip): Clip | null {
  const { skeleton } = character;
  if (!skeleton) return null;
  const sources = sourcesOf(skeleton, humanoidMap(skeleton, character.jointMap), from, source.map);
  if (!restsAlike(skeleton, from, sources)) return null;
  const ownOf = new Map(sources.flatMap((s, j) => (s >= 0 ? [[s, j] as const] : [])));
  const indexOf = new Map(from.joints.map((j, i) => [j.name, i]));
  const tracks = clip.tracks.flatMap((t) => {
    const own = ownOf.get(indexOf.get(t.joint) ?? -1);
    return own === undefined ? [] : [{ ...t, joint: skeleton.joints[own]!.name }];
  });
  return tracks.length ? { ...clip, tracks } : null;
}

/** Whether matched joints rest alike in what they hang on, so that keys of one mean the same on the other. */
function restsAlike(own: Skeleton, from: Skeleton, sources: readonly number[]): boolean {
  return own.joints.every((joint, j) => {
    const s = sources[j]!;
    if (s < 0) return true;
    const other = from.joints[s]!;
    const above = joint.parent === NO_JOINT ? NO_JOINT : sources[joint.parent]!;
    if (above !== other.parent)
      return joint.parent === NO_JOINT || other.parent === NO_JOINT
        ? isPlain(own, joint.parent) && isPlain(from, other.parent) && alike(joint, other)
        : false;
    return alike(joint, other);
  });
}
const alike = (a: Skeleton["joints"][number], b: Skeleton["joints"][number]): boolean => {
  const q = multiplyQuat(conjugate(a.rotation), b.rotation);
  return (
    Math.hypot(q[0], q[1], q[2]) < SAME_TURN &&
    a.translation.every((x, r) => Math.abs(x - b.translation[r]!) < SAME_PLACE) &&
    a.scale.every((x, r) => Math.abs(x - b.scale[r]!) < SAME_PLACE)
  );
};
/** Whether everything from a joint upward stands at the origin without a turn or scale. */
function isPlain(skeleton: Skeleton, joint: number): boolean {
  for (let j = joint; j !== NO_JOINT; j = skeleton.joints[j]!.parent)
    if (
      !alike(skeleton.joints[j]!, {
        ...skeleton.joints[j]!,
        translation: [0, 0, 0],
        rotation: [0, 0, 0, 1],
        scale: [1, 1, 1],
      })
    )
      return false;
  return true;
}
