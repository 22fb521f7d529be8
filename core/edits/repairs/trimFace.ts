import { worldMatrices } from "../../evaluate/poseSkeleton";
import { makeRig } from "../../deform/rig";
import { fadeOut } from "../../math/smoothStep";
import { composeTRS, decomposeTRS } from "../../math/mat4";
import type { Vec3 } from "../../math/vec3";
import { makeLipGauge, type LipGauge } from "../../measure/lipCross";
import { partNamed, withPart } from "../mend/places";
import type { Character, Part, Shape, ShapeDelta } from "../../model/character";
import { UserError } from "../../model/userError";
import { changeRest } from "../../skeleton/changeRest";
import { humanoidMap } from "../../skeleton/humanoidMap";

/** Parts inside the face that can be trimmed. */
export const TRIMMED_KINDS: ReadonlySet<string> = new Set(["eye", "teeth", "tongue"]);

export interface PartTrim {
  /** Millimetres, character space. */
  readonly moveMm: Vec3;
  /** Per axis, about the part's own middle. */
  readonly size: Vec3;
}

const middleOf = (P: Float32Array): Vec3 => {
  const sum = [0, 0, 0];
  for (let i = 0; i < P.length; i++) sum[i % 3]! += P[i]!;
  return sum.map((x) => (3 * x) / Math.max(1, P.length)) as unknown as Vec3;
};

/**
 * Eye, teeth or tongue moved and scaled along each axis under all shapes at once: what shapes do to the part scales
 * with it. An eye takes its joint along.
 * Lids, lips and lashes stay: the face checks tell what no longer fits. @throws UserError for a part of another kind.
 */
export function trimPart(character: Character, name: string, { moveMm, size }: PartTrim): Character {
  const { part, index } = partNamed(character, name);
  if (!TRIMMED_KINDS.has(part.kind))
    throw new UserError(`${name} is neither eye, teeth nor tongue.`, "trim", "Seat other parts at Intake, Parts.");
  const middle = middleOf(part.positions);
  const positions = part.positions.map(
    (x, i) => middle[i % 3]! + size[i % 3]! * (x - middle[i % 3]!) + moveMm[i % 3]! / 1000,
  );
  const scaled = (d: ShapeDelta): ShapeDelta => {
    // a build that carries the whole part goes as far as before; what is done to its form scales with it
    const whole = d.vertices.length === part.positions.length / 3 ? middleOf(d.deltas) : ([0, 0, 0] as const);
    return { ...d, deltas: d.deltas.map((x, i) => whole[i % 3]! + size[i % 3]! * (x - whole[i % 3]!)) };
  };
  const shapes = character.shapes.map((s): Shape =>
    s.deltas.some((d) => d.part === index)
      ? { ...s, deltas: s.deltas.map((d) => (d.part === index ? scaled(d) : d)) }
      : s,
  );
  const trimmed = { ...withPart(character, index, { ...part, positions }), shapes };
  return part.kind === "eye" ? eyeJointAlong(trimmed, part, moveMm) : trimmed;
}

/** The joint that holds an eye moved as the eye's middle was. */
function eyeJointAlong(character: Character, eye: Part, moveMm: Vec3): Character {
  const { skeleton } = character;
  if (!skeleton || !eye.skin || moveMm.every((x) => x === 0)) return character;
  const held = new Set<number>();
  eye.skin.weights.forEach((w, i) => w > 0.5 && held.add(eye.skin!.joints[i]!));
  const map = humanoidMap(skeleton, character.jointMap);
  const joint = [...held].find((j) => /^(left|right)Eye$/.test(map.boneOfJoint[j] ?? ""));
  if (joint === undefined) return character;
  const world = worldMatrices(skeleton, {});
  const { t, q, s } = decomposeTRS(world, 16 * joint);
  composeTRS(world, 16 * joint, [t[0] + moveMm[0] / 1000, t[1] + moveMm[1] / 1000, t[2] + moveMm[2] / 1000], q, s);
  return changeRest(character, world);
}

export interface LipTrim {
  /** The line where the lips meet goes back into the face by so much, mm; forward when negative. */
  readonly depthMm: number;
  /** and up. */
  readonly heightMm: number;
  /** Share of the red of the lips that is rolled in, 0 to 1. */
  readonly hidden: number;
}

/** What is done at the seam fades out over this distance, in half widths of the mouth. */
const FADES = 0.55;
/** The red of a lip reaches this far from the seam, in half widths of the mouth, when it is rolled in. */
const RED = 0.3;
/** A rolled lip turns in by this share of its height. */
const ROLLS = 0.8;
const COLUMNS = 33;

/** The line where the lips meet, from one corner to the other. */
function seamOf(P: Float32Array, { finder, halfWidth }: LipGauge): Vec3[] {
  const upper = [...new Set(finder.still.triangles)];
  return Array.from({ length: COLUMNS }, (_, k): Vec3 | null => {
    const x = -halfWidth + (2 * halfWidth * k) / (COLUMNS - 1);
    const near = upper.filter((v) => Math.abs(P[3 * v]! - x) < (2 * halfWidth) / COLUMNS);
    if (!near.length) return null;
    const edge = near.reduce((b, v) => (P[3 * v + 1]! < P[3 * b + 1]! ? v : b));
    return [x, P[3 * edge + 1]!, P[3 * edge + 2]!];
  }).filter((p) => p !== null);
}

/**
 * The lip seam set deeper or higher and the lips rolled in, at rest and so under every shape: shapes keep what they
 * add. @throws UserError where no lips are found.
 */
export function trimLips(character: Character, { depthMm, heightMm, hidden }: LipTrim): Character {
  const gauge = makeLipGauge(makeRig(character));
  if (!gauge)
    throw new UserError(
      "The lips are not found: there is no shape that opens the mouth.",
      "trim",
      "Set the kinds of skin, eyes and teeth at Intake.",
    );
  const part = character.parts[gauge.part]!;
  const P = part.positions;
  const seam = seamOf(P, gauge);
  const share = gauge.finder.region.share;
  const [reach, red] = [FADES * gauge.halfWidth, RED * gauge.halfWidth];
  const positions = P.slice();
  for (let v = 0; v < P.length / 3; v++) {
    let [nearest, at] = [Infinity, seam[0]!];
    for (const p of seam) {
      const d = Math.hypot(P[3 * v]! - p[0], P[3 * v + 1]! - p[1], P[3 * v + 2]! - p[2]);
      if (d < nearest) [nearest, at] = [d, p];
    }
    if (nearest >= Math.max(reach, red)) continue;
    // corners of the mouth stay: what is done grows from them inward
    const inward = 1 - fadeOut(Math.max(0, gauge.halfWidth - Math.abs(at[0])) / (0.35 * gauge.halfWidth));
    const much = inward * fadeOut(nearest / reach);
    positions[3 * v + 1]! += (much * heightMm) / 1000;
    positions[3 * v + 2]! -= (much * depthMm) / 1000;
    const away = Math.abs(P[3 * v + 1]! - at[1]);
    const rolled = hidden * inward * fadeOut(nearest / (2 * red)) * Math.min(1, away / red + 0.15);
    positions[3 * v + 1]! += (share[v] === 1 ? 1 : -1) * ROLLS * rolled * Math.min(away, red);
    positions[3 * v + 2]! -= ROLLS * rolled * red * 0.5;
  }
  return withPart(character, gauge.part, { ...part, positions });
}
