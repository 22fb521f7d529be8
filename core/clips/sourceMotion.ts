import { bvhMove, bvhTurn, type Bvh } from "../formats/bvh/readBvh";
import { conjugate, normalizeQuat, rotate, slerp } from "../math/quat";
import { length, lerp, sub, type Quat, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Clip, type Joint, type Skeleton } from "../model/character";
import { within } from "../model/budget";
import { sampleTrack } from "../evaluate/sampleTrack";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import { uprightMap } from "../skeleton/uprightMap";
import { keysOf } from "./keysOf";
import { clipBegins, clipRate, clipSeconds, setPlaceAt, setTurnAt, standing, type Motion } from "./motion";

/** A movement as it came, on its own skeleton and in its own unit, with what was not taken from the file. */
export interface SourceMotion {
  readonly name: string;
  /** Its traveller is the pelvis; moves of what that hangs on are in it. Lengths in the file's unit. */
  readonly motion: Motion;
  readonly map: HumanoidMap;
  /** Frames a second of the file; `motion.fps` is what was kept. */
  readonly fileFps: number;
  readonly fileFrames: number;
  /** Joints whose keys of scale were left out, and the largest scale. */
  readonly scaled: { readonly joints: number; readonly most: number };
  /** Joints other than pelvis and root whose keys of place were left out, and how much longer the worst became. */
  readonly moved: { readonly joints: number; readonly longest: number; readonly joint: string };
}

/** More frames a second than this are not kept: no screen shows them. */
const MOST_FPS = 60;
/** A scale of one joint that differs by less is rounding. */
const UNIT_SCALE = 1e-3;

/** The rate at which a movement is kept: its own up to 60, above that the largest whole share of it. */
function keptRate(fileFps: number, asked?: number): number {
  if (asked) return asked;
  let fps = fileFps;
  for (let n = 2; fps > MOST_FPS + 0.5; n++) fps = fileFps / n;
  return Math.abs(fps - Math.round(fps)) < 0.02 ? Math.round(fps) : fps;
}

type Local = Pick<Joint, "translation" | "rotation">;

function gather(
  name: string,
  skeleton: Skeleton,
  corrections: Readonly<Record<string, string | null>>,
  seconds: number,
  fps: number,
  locals: (seconds: number, joint: number) => Local,
): { motion: Motion; map: HumanoidMap } {
  const map = uprightMap(skeleton, corrections);
  const traveller = map.jointOfBone.get("hips") ?? skeleton.joints.findIndex((j) => j.parent === NO_JOINT);
  const count = skeleton.joints.length;
  const frames = Math.max(1, Math.floor(seconds * fps + 1e-3) + 1);
  within("clipNumbers", frames * 4 * count, name, "Cut it into shorter clips.");
  // what the pelvis hangs on may travel too: its moves become the pelvis' own
  const carriers: number[] = [];
  for (let j = traveller; j !== NO_JOINT; j = skeleton.joints[j]!.parent) carriers.unshift(j);
  const flat: Motion = {
    skeleton,
    frames,
    fps,
    traveller,
    turns: new Float64Array(4 * count * frames),
    places: new Float64Array(3 * frames),
    keyed: new Uint8Array(count).fill(1),
  };
  const still: Motion = {
    ...flat,
    skeleton: { ...skeleton, joints: skeleton.joints.slice() },
    frames: 1,
    turns: new Float64Array(4 * count),
    places: new Float64Array(3),
  };
  for (let f = 0; f < frames; f++) {
    const t = f / fps;
    const at = new Map<number, Vec3>();
    for (let j = 0; j < count; j++) {
      const { rotation, translation } = locals(t, j);
      setTurnAt(flat, f, j, rotation);
      if (carriers.includes(j)) at.set(j, translation);
    }
    if (carriers.length === 1) setPlaceAt(flat, f, at.get(traveller)!);
    else setPlaceAt(flat, f, carriedPlace(still, flat, f, carriers, at));
  }
  return { motion: flat, map };
}

/** The pelvis' translation that brings it where the moves of all it hangs on bring it. */
function carriedPlace(
  still: Motion,
  flat: Motion,
  frame: number,
  carriers: readonly number[],
  at: ReadonlyMap<number, Vec3>,
): Vec3 {
  const { joints } = flat.skeleton;
  const count = joints.length;
  still.turns.set(flat.turns.subarray(4 * count * frame, 4 * count * (frame + 1)));
  const moving = still.skeleton.joints as Joint[];
  for (const j of carriers) moving[j] = { ...joints[j]!, translation: at.get(j)! };
  setPlaceAt(still, 0, at.get(flat.traveller)!);
  const there = standing(still, 0).places[flat.traveller]!;
  for (const j of carriers) moving[j] = joints[j]!;
  const from = standing(still, 0);
  const parent = joints[flat.traveller]!.parent;
  // back into the frame that the parent has when it does not travel
  return parent === NO_JOINT ? there : rotate(conjugate(from.turns[parent]!), sub(there, from.places[parent]!));
}

/** The file's joints as a skeleton, in its own unit: frames along the axes of space. */
const skeletonOfBvh = (bvh: Bvh): Skeleton => ({
  joints: bvh.joints.map((j): Joint => ({
    name: j.name,
    parent: j.parent,
    translation: j.offset,
    rotation: [0, 0, 0, 1],
    scale: [1, 1, 1],
  })),
  inverseBinds: new Float32Array(16 * bvh.joints.length),
  inSkin: new Uint8Array(bvh.joints.length).fill(1),
});

/** A BVH as a movement. @param fps frames a second to keep; see `keptRate`. */
export function motionFromBvh(
  bvh: Bvh,
  name: string,
  corrections: Readonly<Record<string, string | null>> = {},
  fps?: number,
): SourceMotion {
  const skeleton = skeletonOfBvh(bvh);
  const fileFps = 1 / bvh.frameSeconds;
  const kept = keptRate(fileFps, fps);
  const gathered = gather(name, skeleton, corrections, (bvh.frames - 1) * bvh.frameSeconds, kept, (t, j) => {
    const exact = Math.min(bvh.frames - 1, t / bvh.frameSeconds);
    const near = Math.round(exact);
    const at = (f: number): Local => ({
      rotation: bvhTurn(bvh, bvh.joints[j]!, f),
      translation: bvhMove(bvh, bvh.joints[j]!, f) ?? skeleton.joints[j]!.translation,
    });
    if (Math.abs(exact - near) < 0.01) return at(near);
    const [a, b, share] = [at(Math.floor(exact)), at(Math.ceil(exact)), exact % 1];
    return { rotation: slerp(a.rotation, b.rotation, share), translation: lerp(a.translation, b.translation, share) };
  });
  return {
    name,
    ...gathered,
    fileFps,
    fileFrames: bvh.frames,
    scaled: { joints: 0, most: 1 },
    moved: stretchOf(skeleton, gathered.motion.traveller, (j) =>
      bvhMove(bvh, bvh.joints[j]!, 0)
        ? Array.from({ length: bvh.frames }, (_, f) => bvhMove(bvh, bvh.joints[j]!, f)!)
        : null,
    ),
  };
}

/** A clip of a file with a skeleton of its own as a movement. @param fps frames a second to keep; see `keptRate`. */
export function motionFromClip(
  skeleton: Skeleton,
  clip: Clip,
  corrections: Readonly<Record<string, string | null>> = {},
  fps?: number,
): SourceMotion {
  const fileFps = clipRate(clip);
  const kept = keptRate(fileFps, fps);
  const begin = clipBegins(clip);
  const tracks = new Map([...clip.tracks].reverse().map((t) => [`${t.path} ${t.joint}`, t]));
  const seconds = clipSeconds(clip) - begin;
  const gathered = gather(clip.name, skeleton, corrections, seconds, kept, (t, j) => {
    const { name, rotation, translation } = skeleton.joints[j]!;
    const [turn, move] = [tracks.get(`rotation ${name}`), tracks.get(`translation ${name}`)];
    return {
      rotation: turn ? normalizeQuat(sampleTrack(turn, begin + t) as Quat) : rotation,
      translation: move ? (sampleTrack(move, begin + t) as Vec3) : translation,
    };
  });
  const scaled = clip.tracks.filter((t) => t.path === "scale");
  const sizes = scaled.map((t) => {
    const keys = keysOf(t);
    let most = 1;
    for (let k = 0; k < keys.count; k++)
      for (const x of Array.from(keys.at(k))) if (Math.abs(x - 1) > Math.abs(most - 1)) most = x;
    return most;
  });
  return {
    name: clip.name,
    ...gathered,
    fileFps,
    fileFrames: Math.round(seconds * fileFps) + 1,
    scaled: {
      joints: sizes.filter((s) => Math.abs(s - 1) > UNIT_SCALE).length,
      most: sizes.reduce((a, b) => (Math.abs(b - 1) > Math.abs(a - 1) ? b : a), 1),
    },
    moved: stretchOf(skeleton, gathered.motion.traveller, (j) => {
      const track = tracks.get(`translation ${skeleton.joints[j]!.name}`);
      if (!track) return null;
      const keys = keysOf(track);
      return Array.from({ length: keys.count }, (_, k) => keys.at(k) as unknown as Vec3);
    }),
  };
}

/** A joint's length may differ by so much before its keys of place count as a stretch, shares of it. */
const SAME_LENGTH = 5e-4;

/** Joints under the pelvis, or beside its chain, that keys of place would move. */
function stretchOf(
  skeleton: Skeleton,
  traveller: number,
  keysAt: (joint: number) => readonly Vec3[] | null,
): SourceMotion["moved"] {
  const carriers = new Set<number>();
  for (let j = traveller; j !== NO_JOINT; j = skeleton.joints[j]!.parent) carriers.add(j);
  let joints = 0;
  let [longest, worst] = [1, ""];
  skeleton.joints.forEach(({ translation, name }, j) => {
    if (carriers.has(j)) return;
    const keys = keysAt(j);
    const own = length(translation);
    if (!keys || own < 1e-9) return;
    let most = 1;
    let moves = false;
    for (const key of keys) {
      const ratio = length(key) / own;
      if (Math.abs(ratio - 1) > Math.abs(most - 1)) most = ratio;
      moves ||= length(sub(key, translation)) > SAME_LENGTH * own;
    }
    if (!moves) return;
    joints++;
    if (Math.abs(most - 1) >= Math.abs(longest - 1)) [longest, worst] = [most, name];
  });
  return { joints, longest, joint: worst };
}
