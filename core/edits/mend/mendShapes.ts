import { noiseOf } from "../../measure/deltaNoise";
import { counterpart, sideOfShapeName } from "../../shapes/shapeSides";
import { mirrorDeltas } from "../../shapes/mirrorDeltas";
import { percentile } from "../../measure/edgeStretch";
import { carryMovement } from "../../surface/carryMovement";
import type { Character, Shape } from "../../model/character";
import { neighboursOf } from "../../model/neighbours";
import { withoutShape } from "../../model/withoutShape";
import { unturnFaces } from "../../shapes/unturnFaces";
import { oneSide } from "../../shapes/sideShare";
import { smoothDelta } from "../../shapes/smoothDelta";
import { UserError } from "../../model/userError";
import { neededShape, partNamed } from "./places";

/** The shape and its drivers go. */
export function removeShape(character: Character, name: string): Character {
  neededShape(character, name);
  return withoutShape(character, name);
}

/** Half width of the seam over which a one-sided shape fades out, metres. */
const SEAM = 0.01;

/** Fades a one-sided shape out over the middle: smooth from all on its own side to nothing on the other. */
export function cutSideLeak(character: Character, name: string): Character {
  const shape = neededShape(character, name);
  const side = sideOfShapeName(name);
  if (!side)
    throw new UserError(
      `The name ${name} does not say which side the shape is of.`,
      "mend",
      "Rename it with left or right.",
    );
  const deltas = shape.deltas.flatMap(
    (delta) => oneSide(delta, character.parts[delta.part]!.positions, side, SEAM) ?? [],
  );
  return { ...character, shapes: character.shapes.map((s) => (s === shape ? { ...s, deltas } : s)) };
}

/**
 * Gives a part the movement of the skin nearest to each of its vertices, mixed from the three corners of the skin's
 * triangle. What it did before in the shape is replaced.
 */
export function carryShape(character: Character, partName: string, shapeName: string): Character {
  const shape = neededShape(character, shapeName);
  const { index } = partNamed(character, partName);
  const body = character.parts.findIndex((p) => p.kind === "body");
  const skinDelta = shape.deltas.find((d) => d.part === body);
  if (!skinDelta) throw new UserError(`${shapeName} does not move the skin.`, "mend", "");
  const made = carryMovement(character, index, skinDelta);
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      s === shape
        ? {
            ...s,
            deltas: [...s.deltas.filter((d) => d.part !== index), ...(made ? [made] : [])].sort(
              (x, y) => x.part - y.part,
            ),
          }
        : s,
    ),
  };
}

/** Most passes of smoothing that a noisy shape gets. */
const MOST_PASSES = 12;

/**
 * Smooths a shape's movement of a part, pass by pass, until nineteen vertices in twenty are well within the limit.
 * @param limit mm.
 */
export function denoiseShape(character: Character, name: string, partName: string, limit: number): Character {
  const shape = neededShape(character, name);
  const { part, index } = partNamed(character, partName);
  const delta = shape.deltas.find((d) => d.part === index);
  if (!delta) throw new UserError(`${name} does not move ${partName}.`, "mend", "");
  const neighbours = neighboursOf(part);
  for (let passes = 1; passes <= MOST_PASSES; passes++) {
    const smooth = smoothDelta(delta, neighbours, passes);
    if (
      percentile(
        noiseOf(smooth, neighbours, part.positions).map((r) => r.mm),
        0.95,
      ) >
      0.7 * limit
    )
      continue;
    return {
      ...character,
      shapes: character.shapes.map((s) =>
        s === shape ? { ...s, deltas: s.deltas.map((d) => (d === delta ? smooth : d)) } : s,
      ),
    };
  }
  throw new UserError(
    `${name} is still noisy after ${MOST_PASSES} rounds of smoothing.`,
    "mend",
    "Make the shape again where it came from.",
  );
}

/** Gives the one of two counterparts that moves less the mirror image of the other. */
export function mirrorBetter(character: Character, name: string): Character {
  const shape = neededShape(character, name);
  const twin = counterpart(character.shapes, shape);
  if (!twin) throw new UserError(`${name} has no counterpart.`, "mend", "");
  const travel = (s: Shape): number =>
    s.deltas.reduce((sum, d) => sum + d.deltas.reduce((a, x) => a + Math.abs(x), 0), 0);
  const [better, other] = travel(shape) >= travel(twin) ? [shape, twin] : [twin, shape];
  const { deltas } = mirrorDeltas(character, better.deltas);
  return {
    ...character,
    shapes: character.shapes.map((s) => (s === other ? { ...s, deltas: deltas.sort((a, b) => a.part - b.part) } : s)),
  };
}

/**
 * Sets faces right that a shape turns over. A shape that is driven with others is judged together with them, and is
 * left alone here.
 */
export function unturnShape(character: Character, name: string, partName: string): Character {
  const shape = neededShape(character, name);
  const { part, index } = partNamed(character, partName);
  const delta = shape.deltas.find((d) => d.part === index);
  if (!delta || character.shapeDrivers.some((d) => d.shape === name))
    throw new UserError(
      `${name} acts together with other shapes.`,
      "mend",
      "Smooth it by hand over the mix in which it acts.",
    );
  const right = unturnFaces(part, delta);
  if (right.left)
    throw new UserError(`${right.left} faces of ${partName} stay turned.`, "mend", "Smooth the shape there by hand.");
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      s === shape ? { ...s, deltas: s.deltas.map((d) => (d === delta ? right.delta : d)) } : s,
    ),
  };
}
