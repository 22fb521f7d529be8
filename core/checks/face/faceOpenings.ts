import { statureOf } from "../delivery/scaleStature";
import {
  incisorOpening,
  lidOpening,
  lipOpening,
  lipToTeeth,
  makeOpeningGauge,
  type OpeningGauge,
} from "../../measure/openings";
import { lipCross } from "../../measure/lipCross";
import { movedBy } from "../../model/movedBy";
import type { Character, Shape } from "../../model/character";
import { mixShapes } from "../../shapes/mixShapes";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { shapeMeaning, shutsEye } from "../../shapes/shapeMeaning";
import { finding, type Check, type CheckContext, type Finding } from "../finding";

const gaugeOf = ({ rig, cache }: CheckContext): OpeningGauge | null => {
  const key = "openings";
  if (!cache.has(key)) cache.set(key, makeOpeningGauge(rig));
  return cache.get(key) as OpeningGauge | null;
};

/** The first shape that by its name is an action unit. */
const shapeOfUnit = (character: Character, unit: number): Shape | undefined =>
  character.shapes.find((s) => {
    const meaning = shapeMeaning(s.name);
    return meaning?.system === "unit" && meaning.unit === unit;
  });

const positionsOf = (character: Character, shape: Shape): Float32Array[] =>
  character.parts.map((part, p) => {
    const delta = shape.deltas.find((d) => d.part === p);
    return delta ? movedBy(part, delta).moved : part.positions;
  });

/** Positions of one part under a shape at full. */
function skinOf({ parts }: Character, part: number, shape: Shape): Float32Array {
  const delta = shape.deltas.find((d) => d.part === part);
  return delta ? movedBy(parts[part]!, delta).moved : parts[part]!.positions;
}

/** Opening left between the lids by shapes that by their names shut an eye. */
export const faceLidGap: Check = {
  id: "face.lid-gap",
  title: "Eyes that do not shut",
  unit: "mm",
  source: "our own choice: 0.3 mm",
  run: (character, context) => {
    const limit = context.profile.limits["face.lid-gap"];
    const gauge = limit === null ? null : gaugeOf(context);
    if (!gauge || limit === null) return [];
    return character.shapes.flatMap((shape) =>
      (["left", "right"] as const)
        .filter((side) => shutsEye(shapeMeaning(shape.name), side) && gauge.eyes.some((e) => e.eye.side === side))
        .flatMap((side): Finding[] => {
          const mm = 1000 * lidOpening(gauge, positionsOf(character, shape), side);
          return mm > limit
            ? [
                finding({
                  check: "face.lid-gap",
                  severity: "error",
                  shape: shape.name,
                  part: character.parts[gauge.body]!.name,
                  value: mm,
                  unit: "mm",
                  limit,
                  message:
                    `${shape.label} leaves the ${side} eye open by ` +
                    `${mm.toFixed(1)} mm; bring the lids together along the eyeball.`,
                }),
              ]
            : [];
        }),
    );
  },
};

/** Openings of the jaw at which a shape of one's own name is read too, shares of jaw drop. */
const JAWS = [0.2, 0.4];

/**
 * Depth of one lip in the other in a shape at full. A shape that is no unit, viseme or expression may be meant for an
 * open mouth: it counts with the jaw as it crosses least.
 */
export const faceLipCross: Check = {
  id: "face.lip-cross",
  title: "Lips that push into each other",
  unit: "mm",
  source: "our own choice: 1 mm",
  run: (character, context) => {
    const limit = context.profile.limits["face.lip-cross"];
    const gauge = limit === null ? null : gaugeOf(context);
    if (!gauge?.lips || limit === null) return [];
    const { lips, body } = gauge;
    const touched = new Set(lips.finder.candidates);
    const jaw = shapeOfUnit(character, 26);
    return shapesAsSeen(character).flatMap((shape): Finding[] => {
      if (!shape.deltas.some((d) => d.part === body && d.vertices.some((v) => touched.has(v)))) return [];
      const depthAt = (open: number): number =>
        1000 *
        lipCross(
          context.rig,
          lips,
          skinOf(
            character,
            body,
            open && jaw
              ? {
                  ...shape,
                  deltas: mixShapes([
                    [shape, 1],
                    [jaw, open],
                  ]),
                }
              : shape,
          ),
        ).depth;
      let mm = depthAt(0);
      if (mm > limit && jaw && !shapeMeaning(shape.name)) mm = Math.min(mm, ...JAWS.map(depthAt));
      return mm > limit
        ? [
            finding({
              check: "face.lip-cross",
              severity: "error",
              shape: shape.name,
              part: character.parts[body]!.name,
              value: mm,
              unit: "mm",
              limit,
              message: `One lip goes ${mm.toFixed(1)} mm into the other at ${shape.label}; draw them apart.`,
            }),
          ]
        : [];
    });
  },
};

const visemes = (character: Character, number: number): Shape[] =>
  character.shapes.filter((s) => {
    const meaning = shapeMeaning(s.name);
    return meaning?.system === "viseme" && meaning.viseme === number;
  });

/** Opening left between the lips where p, b and m are spoken (viseme 1 of MPEG-4). */
export const faceLipSeal: Check = {
  id: "face.lip-seal",
  title: "Lips that do not meet at p, b, m",
  unit: "mm",
  source: "our own choice: 0.5 mm",
  run: (character, context) => {
    const limit = context.profile.limits["face.lip-seal"];
    const shapes = visemes(character, 1);
    const gauge = limit === null || !shapes.length ? null : gaugeOf(context);
    if (!gauge?.lips || limit === null) return [];
    return shapes.flatMap((shape): Finding[] => {
      const mm = 1000 * lipOpening(gauge, positionsOf(character, shape));
      return mm > limit
        ? [
            finding({
              check: "face.lip-seal",
              severity: "error",
              shape: shape.name,
              part: character.parts[gauge.body]!.name,
              value: mm,
              unit: "mm",
              limit,
              message: `The lips stay ${mm.toFixed(1)} mm apart at ${shape.label}; bring them together.`,
            }),
          ]
        : [];
    });
  },
};

/** Distance from the lower lip to the upper teeth where f and v are spoken (viseme 2 of MPEG-4). */
export const faceLipTeeth: Check = {
  id: "face.lip-teeth",
  title: "Lower lip that does not reach the teeth at f, v",
  unit: "mm",
  source: "our own choice: 1.5 mm",
  run: (character, context) => {
    const limit = context.profile.limits["face.lip-teeth"];
    const shapes = visemes(character, 2);
    const gauge = limit === null || !shapes.length ? null : gaugeOf(context);
    if (!gauge || limit === null) return [];
    return shapes.flatMap((shape): Finding[] => {
      const distance = lipToTeeth(gauge, positionsOf(character, shape));
      // no tooth in sight of the lip: nothing to measure against
      if (distance === null || !Number.isFinite(distance) || 1000 * distance <= limit) return [];
      return [
        finding({
          check: "face.lip-teeth",
          severity: "error",
          shape: shape.name,
          part: character.parts[gauge.body]!.name,
          value: 1000 * distance,
          unit: "mm",
          limit,
          message:
            `The lower lip stays ${(1000 * distance).toFixed(1)} mm from ` +
            `the upper teeth at ${shape.label}; bring it to their edge.`,
        }),
      ];
    });
  },
};

/** Shorter figures are children, whose mouths open less, metres. */
const GROWN = 1.5;

/** Opening between the incisors where the mouth is stretched open (action unit 27). */
export const faceJawRange: Check = {
  id: "face.jaw-range",
  title: "Jaw that opens too little or too far",
  unit: "mm",
  source: "from memory: 35 to 60 mm between the incisors of adults",
  run: (character, context) => {
    const range = context.profile.limits["face.jaw-range"];
    const shape = shapeOfUnit(character, 27);
    const gauge = range && shape && statureOf(character) > GROWN ? gaugeOf(context) : null;
    const opening = gauge && incisorOpening(gauge, positionsOf(character, shape!));
    if (!range || !shape || opening === null) return [];
    const mm = 1000 * opening;
    if (mm >= range[0] && mm <= range[1]) return [];
    return [
      finding({
        check: "face.jaw-range",
        severity: "note",
        shape: shape.name,
        value: mm,
        unit: "mm",
        limit: mm < range[0] ? range[0] : range[1],
        message:
          `${shape.label} opens the mouth by ${mm.toFixed(0)} mm between ` +
          `the incisors; people open it by ${range[0]} to ${range[1]} mm.`,
      }),
    ];
  },
};
