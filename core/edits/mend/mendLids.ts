import { makeRig } from "../../deform/rig";
import { fadeOut } from "../../math/smoothStep";
import type { Eyeball } from "../../measure/eyeballs";
import { lidColumns, makeOpeningGauge, type LidColumn } from "../../measure/openings";
import type { Character, ShapeDelta } from "../../model/character";
import { movedBy } from "../../model/movedBy";
import { UserError } from "../../model/userError";
import { carryMovement, carrySurface } from "../../surface/carryMovement";
import { mixShapes } from "../../shapes/mixShapes";
import { shapeMeaning, shutsEye } from "../../names/shapeMeaning";
import { sparseDelta } from "../../shapes/sparseDelta";
import { unturnFaces } from "../../shapes/unturnFaces";
import { pushLidsOut } from "./mendFace";
import { neededShape } from "./places";

/** What is done to a lid holds at its edge and fades out over this distance, metres. */
const FADES = 0.012;
/** Mends stop at this share of the limit. */
const ROOM = 0.6;
const ROUNDS = 14;
const PASSES = 4;
const COLUMNS = 25;
/** Share of the opening that the upper lid goes down by in a round; the lower comes up by a fifth of it. */
const DOWN = 0.6;
const UP = 0.12;
const LEAST = 1e-6;
const WITH_THE_SKIN: ReadonlySet<string> = new Set(["lash", "tear line"]);

/**
 * Shuts the eyes that a shape by its name shuts: in columns over each eye the lids' edges slide along the eyeball
 * towards each other, the upper one most of the way, and take the skin round them along; then they are put onto the
 * eyeball again. Lashes and tear lines go with the lids. @param limitMm opening that may stay.
 * @throws UserError when they cannot be shut.
 */
export function shutLids(character: Character, name: string, limitMm: number): Character {
  let now = character;
  // setting turned faces right may open a lid a little again
  for (let pass = 0; pass < PASSES; pass++) {
    const { character: shut, changed } = slidTogether(now, name, limitMm);
    if (!changed) return now;
    now = unturned(pushLidsOut(shut, name, bodyName(shut)), name);
  }
  return now;
}

const bodyName = (c: Character): string => c.parts.find((p) => p.kind === "body")!.name;

/** Faces of the skin that the shape turns over set right, as far as may be. */
function unturned(character: Character, name: string): Character {
  const shape = neededShape(character, name);
  const index = character.parts.findIndex((p) => p.kind === "body");
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      s === shape
        ? { ...s, deltas: s.deltas.map((d) => (d.part === index ? unturnFaces(character.parts[index]!, d).delta : d)) }
        : s,
    ),
  };
}

function slidTogether(character: Character, name: string, limitMm: number): { character: Character; changed: boolean } {
  let changed = false;
  const shape = neededShape(character, name);
  const gauge = makeOpeningGauge(makeRig(character));
  const sides = (["left", "right"] as const).filter(
    (side) => shutsEye(shapeMeaning(name), side) && gauge?.eyes.some((e) => e.eye.side === side),
  );
  if (!gauge || !sides.length)
    throw new UserError(`${name} shuts no eye that is known.`, "mend", "Set the kinds of skin and eyes at Intake.");
  const body = character.parts[gauge.body]!;
  const before = shape.deltas.find((d) => d.part === gauge.body);
  const skin = before ? movedBy(body, before).moved : body.positions.slice();
  const at = character.parts.map((part, p) => {
    const delta = shape.deltas.find((d) => d.part === p);
    return p === gauge.body ? skin : delta ? movedBy(part, delta).moved : part.positions;
  });
  const rest = character.parts.map((p) => p.positions);
  for (const side of sides) {
    const { eye } = gauge.eyes.find((e) => e.eye.side === side)!;
    const line = lidColumns(gauge, rest, side, COLUMNS);
    if (!line.length) throw new UserError(`The ${side} eye is shut at rest: its lids are not told apart.`, "mend", "");
    for (let round = 0; ; round++) {
      const open = lidColumns(gauge, at, side, COLUMNS);
      if (open.every((c) => 1000 * c.open <= ROOM * limitMm)) break;
      if (round === ROUNDS)
        throw new UserError(
          `The lids of ${name} could not be brought together to ${limitMm} mm.`,
          "mend",
          "Sculpt the shape: a lid may lie inside the eyeball.",
        );
      changed = true;
      slide(skin, body.positions, eye, open, line);
    }
  }
  const made = sparseDelta(
    gauge.body,
    skin.map((x, i) => x - body.positions[i]!),
    LEAST,
  );
  const change =
    mixShapes([
      [{ deltas: [made] }, 1],
      [{ deltas: before ? [before] : [] }, -1],
    ])[0] ?? made;
  const surface = carrySurface(body);
  const along = character.parts.flatMap((part, p): ShapeDelta[] =>
    WITH_THE_SKIN.has(part.kind) ? [carryMovement(character, p, change, surface)].filter((d) => d !== null) : [],
  );
  const deltas = mixShapes([
    [{ deltas: [...shape.deltas.filter((d) => d.part !== gauge.body), made] }, 1],
    [{ deltas: along }, 1],
  ]);
  return {
    changed,
    character: { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, deltas } : s)) },
  };
}

/**
 * Turns the lids about the eyeball's centre towards each other, by what is open in the nearest column. @param line the
 * opening at rest: what lies over its middle is the upper lid.
 */
function slide(
  skin: Float32Array,
  rest: Float32Array,
  { centre, radius }: Eyeball,
  open: readonly LidColumn[],
  line: readonly LidColumn[],
): void {
  const nearest = (list: readonly LidColumn[], x: number): LidColumn =>
    list.reduce((a, b) => (Math.abs(b.x - x) < Math.abs(a.x - x) ? b : a));
  const front = (x: number, y: number): number =>
    centre[2] + Math.sqrt(Math.max(0, radius ** 2 - (x - centre[0]) ** 2 - (y - centre[1]) ** 2));
  for (let v = 0; v < skin.length / 3; v++) {
    if (
      Math.hypot(skin[3 * v]! - centre[0], skin[3 * v + 1]! - centre[1], skin[3 * v + 2]! - centre[2]) >
      radius + 2 * FADES
    )
      continue;
    const gap = nearest(open, skin[3 * v]!);
    const atRest = nearest(line, rest[3 * v]!);
    const upper = rest[3 * v + 1]! > (atRest.low + atRest.high) / 2;
    const edge = upper ? gap.high : gap.low;
    const share = fadeOut(
      Math.hypot(skin[3 * v]! - gap.x, skin[3 * v + 1]! - edge, skin[3 * v + 2]! - front(gap.x, edge)) / FADES,
    );
    if (share <= 0) continue;
    // about the axis through the eye from side to side, so that the lid keeps its height over the eyeball
    const turn = ((upper ? DOWN : -UP) * gap.open * share) / radius;
    const [y, z] = [skin[3 * v + 1]! - centre[1], skin[3 * v + 2]! - centre[2]];
    skin[3 * v + 1] = centre[1] + Math.cos(turn) * y - Math.sin(turn) * z;
    skin[3 * v + 2] = centre[2] + Math.sin(turn) * y + Math.cos(turn) * z;
  }
}
