import { makeRig, type Rig } from "../../deform/rig";
import { fadeOut } from "../../math/smoothStep";
import { lipOpening, makeOpeningGauge } from "../../measure/openings";
import { lipCross, makeLipGauge, type LipGauge } from "../../measure/lipCross";
import type { Character, Shape } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { UserError } from "../../model/userError";
import { sparseDelta } from "../../shapes/sparseDelta";
import { neededShape } from "./places";

/**
 * What is done to one lip holds at the edge and fades out over this distance, metres: both layers of the lip and the
 * skin round it go along.
 */
const FADES = 0.014;
/** Mends stop at this share of the limit. */
const ROOM = 0.7;
/** Depth of lip in lip that sealing may leave, mm, and how far round it skin goes back with it, metres. */
const CROSSED = 0.8;
const CLOSE = 0.005;
const ROUNDS = 24;
const COLUMNS = 41;
/** Lip vertices this far to either side belong to a column, metres. */
const COLUMN = 0.003;
const LEAST = 1e-6;

interface Lips {
  readonly rig: Rig;
  readonly lips: LipGauge;
  readonly shape: Shape;
  readonly rest: Float32Array;
  /** Places of the skin in the shape at full; changed by the mend. */
  readonly skin: Float32Array;
}

function lipsOf(character: Character, name: string): Lips {
  const shape = neededShape(character, name);
  const rig = makeRig(character);
  const lips = makeLipGauge(rig);
  if (!lips)
    throw new UserError(
      "The lips are not found: there is no shape that opens the mouth.",
      "mend",
      "Set the kinds of skin, eyes and teeth at Intake.",
    );
  const part = character.parts[lips.part]!;
  const delta = shape.deltas.find((d) => d.part === lips.part);
  return {
    rig,
    lips,
    shape,
    rest: part.positions,
    skin: delta ? movedBy(part, delta).moved.slice() : part.positions.slice(),
  };
}

function withSkin(character: Character, { shape, lips, rest, skin }: Lips): Character {
  const made = sparseDelta(
    lips.part,
    skin.map((x, i) => x - rest[i]!),
    LEAST,
  );
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      s === shape
        ? { ...s, deltas: [...s.deltas.filter((d) => d.part !== lips.part), made].sort((a, b) => a.part - b.part) }
        : s,
    ),
  };
}

const isLower = ({ lips }: Lips, v: number): boolean => lips.finder.region.share[v] === 1;
/** Skin that can be reached by what is done to the lips. */
const around = ({ lips, rest }: Lips): number[] =>
  Array.from({ length: rest.length / 3 }, (_, v) => v).filter(
    (v) =>
      Math.hypot(
        rest[3 * v]! - lips.finder.region.centre[0],
        rest[3 * v + 1]! - lips.finder.region.centre[1],
        rest[3 * v + 2]! - lips.finder.region.centre[2],
      ) <
      1.6 * lips.halfWidth + FADES,
  );

/**
 * Brings the lips together in a shape at full: in columns over the width of the mouth each lip goes a third of what is
 * open between their edges, round by round, and takes the skin round it along. @param limitMm opening that may stay.
 * @throws UserError when they cannot be closed without pushing into each other.
 */
export function sealLips(character: Character, name: string, limitMm: number): Character {
  const found = lipsOf(character, name);
  const { lips, skin } = found;
  const gauge = makeOpeningGauge(found.rig, lips)!;
  const [upper, lower] = [lips.finder.still, lips.finder.moving].map((tree) => [...new Set(tree.triangles)]) as [
    number[],
    number[],
  ];
  const near = around(found);
  const half = lips.halfWidth;
  const positions = character.parts.map((p, i) => (i === lips.part ? skin : p.positions));
  for (let round = 0; round < ROUNDS; round++) {
    // what is brought together at one place must not go into the other lip at the next
    const crossed = lipCross(found.rig, lips, skin);
    if (1000 * crossed.depth <= CROSSED && 1000 * lipOpening(gauge, positions) <= ROOM * limitMm)
      return withSkin(character, found);
    if (1000 * crossed.depth > CROSSED) apart(found, near, crossed.depths, CLOSE);
    const edges = Array.from({ length: COLUMNS }, (_, k) => {
      const x = -half + (2 * half * k) / (COLUMNS - 1);
      const inColumn = (list: readonly number[]): number[] => list.filter((v) => Math.abs(skin[3 * v]! - x) < COLUMN);
      const [up, low] = [inColumn(upper), inColumn(lower)];
      if (!up.length || !low.length) return { gap: 0, up: [0, 0, 0], low: [0, 0, 0] };
      const bottom = up.reduce((b, v) => (skin[3 * v + 1]! < skin[3 * b + 1]! ? v : b));
      const top = low.reduce((b, v) => (skin[3 * v + 1]! > skin[3 * b + 1]! ? v : b));
      const at = (v: number): number[] => [x, skin[3 * v + 1]!, skin[3 * v + 2]!];
      return { gap: Math.max(0, skin[3 * bottom + 1]! - skin[3 * top + 1]! + 0.0001), up: at(bottom), low: at(top) };
    });
    for (const v of near) {
      const column = Math.round(((skin[3 * v]! + half) / (2 * half)) * (COLUMNS - 1));
      const edge = edges[Math.min(COLUMNS - 1, Math.max(0, column))]!;
      if (!edge.gap) continue;
      const down = isLower(found, v);
      const to = down ? edge.low : edge.up;
      skin[3 * v + 1]! +=
        (down ? 0.35 : -0.35) *
        edge.gap *
        fadeOut(Math.hypot(skin[3 * v]! - to[0]!, skin[3 * v + 1]! - to[1]!, skin[3 * v + 2]! - to[2]!) / FADES);
    }
  }
  throw new UserError(
    `The lips of ${name} could not be closed to ${limitMm} mm.`,
    "mend",
    "Sculpt the shape: one lip may lie behind the other.",
  );
}

/** Each lip goes back by half of how deep it lies in the other; what lies within `over` metres goes along. */
function apart(found: Lips, near: readonly number[], depths: Float32Array, over: number): void {
  const { skin } = found;
  const most = depths.reduce((a, b) => Math.max(a, b), 0);
  const deep = Array.from(depths.keys()).filter((v) => depths[v]! > 0.2 * most);
  const moves = near.map((v) =>
    deep.reduce(
      (m, w) =>
        Math.max(
          m,
          depths[w]! *
            fadeOut(
              Math.hypot(
                skin[3 * v]! - skin[3 * w]!,
                skin[3 * v + 1]! - skin[3 * w + 1]!,
                skin[3 * v + 2]! - skin[3 * w + 2]!,
              ) / over,
            ),
        ),
      0,
    ),
  );
  near.forEach((v, i) => (skin[3 * v + 1]! += (isLower(found, v) ? -0.5 : 0.5) * moves[i]!));
}

/**
 * Draws lips apart where a shape at full pushes one into the other: each goes back by half of the depth, up or down,
 * and takes the skin round it along.
 * @param limitMm depth that may stay. @throws UserError when they cannot be parted.
 */
export function partLips(character: Character, name: string, limitMm: number): Character {
  const found = lipsOf(character, name);
  const { rig, lips, skin } = found;
  const near = around(found);
  for (let round = 0; round < ROUNDS; round++) {
    const { depth, depths } = lipCross(rig, lips, skin);
    if (1000 * depth <= ROOM * limitMm) return withSkin(character, found);
    apart(found, near, depths, FADES);
  }
  throw new UserError(
    `The lips of ${name} could not be parted to ${limitMm} mm.`,
    "mend",
    "Sculpt the shape: one lip lies wholly in the other.",
  );
}
