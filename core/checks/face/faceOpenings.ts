import { partLips } from "../../edits/mend/mendLips";
import { sealLips } from "../../edits/mend/mendLips";
import { shutLids } from "../../edits/mend/mendLids";
import { amount, check, span, type CheckContext } from "../check";
import { statureOf } from "../../measure/stature";
import {
  incisorOpening,
  lidOpening,
  lipOpening,
  lipToTeeth,
  makeOpeningGauge,
  type OpeningGauge,
} from "../../measure/openings";
import { lipCross } from "../../measure/lipCross";
import { whileShaped } from "../../model/movedBy";
import type { Character, Shape } from "../../model/character";
import { mixShapes } from "../../shapes/mixShapes";
import { shapesAsSeen } from "../../shapes/shapesAsSeen";
import { shapeMeaning, shutsEye } from "../../names/shapeMeaning";
import { finding, type Finding } from "../finding";

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

/** Opening left between the lids by shapes that by their names shut an eye. */
export const faceLidGap = check({
  id: "face.lid-gap",
  title: "Eyes that do not shut",
  station: "shapes",
  unit: "mm",
  measures:
    "greatest height at which the eyeball is seen between the lids, from the front, at shapes " +
    "that by name shut the eye (unit 43 or 45, presets blink); one click slides the lids together",
  severity: "error",
  limits: { "face.lid-gap": amount(0.3) },
  source: "our own choice: 0.3 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      `Slides the lids along the eyeball in ${f.shape} until they meet, ` +
      "the upper one most of the way; lashes and tear lines go along.",
    apply: (c, f) => shutLids(c, f.shape!, f.limit!),
  },
  run: (character, context) => {
    const limit = context.limits["face.lid-gap"];
    const gauge = limit === null ? null : gaugeOf(context);
    if (!gauge || limit === null) return [];
    return character.shapes.flatMap((shape) =>
      (["left", "right"] as const)
        .filter((side) => shutsEye(shapeMeaning(shape.name), side) && gauge.eyes.some((e) => e.eye.side === side))
        .flatMap((side): Finding[] => {
          const mm = 1000 * whileShaped(character.parts, shape, (now) => lidOpening(gauge, now, side));
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
});

/** Openings of the jaw at which a shape of one's own name is read too, shares of jaw drop. */
const JAWS = [0.2, 0.4];

const withJaw = (shape: Shape, jaw: Shape, open: number): Shape["deltas"] =>
  mixShapes([
    [shape, 1],
    [jaw, open],
  ]);

/**
 * Depth of one lip in the other in a shape at full. A shape that is no unit, viseme or expression may be meant for an
 * open mouth: it counts with the jaw as it crosses least.
 */
export const faceLipCross = check({
  id: "face.lip-cross",
  title: "Lips that push into each other",
  station: "shapes",
  unit: "mm",
  measures:
    "depth of one lip in the other beyond rest, per shape at full (one that is no unit, viseme or " +
    ("expression with the jaw as it crosses least) and per pair " +
      "beyond what either does alone; one click draws the lips apart"),
  severity: "error",
  limits: { "face.lip-cross": amount(1) },
  source: "our own choice: 1 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) => `Draws the lips apart in ${f.shape} where one goes into the other, each by half of the depth.`,
    apply: (c, f) => partLips(c, f.shape!, f.limit!),
  },
  run: (character, context) => {
    const limit = context.limits["face.lip-cross"];
    const gauge = limit === null ? null : gaugeOf(context);
    if (!gauge?.lips || limit === null) return [];
    const { lips, body } = gauge;
    const touched = new Set(lips.finder.candidates);
    const jaw = shapeOfUnit(character, 26);
    return shapesAsSeen(character).flatMap((shape): Finding[] => {
      if (!shape.deltas.some((d) => d.part === body && d.vertices.some((v) => touched.has(v)))) return [];
      const depthAt = (open: number): number => {
        const mixed = open && jaw ? withJaw(shape, jaw, open) : shape.deltas;
        const skin = { deltas: mixed.filter((d) => d.part === body) };
        return 1000 * whileShaped(character.parts, skin, (now) => lipCross(context.rig, lips, now[body]!).depth);
      };
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
});

const visemes = (character: Character, number: number): Shape[] =>
  character.shapes.filter((s) => {
    const meaning = shapeMeaning(s.name);
    return meaning?.system === "viseme" && meaning.viseme === number;
  });

/** Opening left between the lips where p, b and m are spoken (viseme 1 of MPEG-4). */
export const faceLipSeal = check({
  id: "face.lip-seal",
  title: "Lips that do not meet at p, b, m",
  station: "shapes",
  unit: "mm",
  measures: "greatest height of the opening between the lips at viseme 1 (p, b, m); one click seals them",
  severity: "error",
  limits: { "face.lip-seal": amount(0.5) },
  source: "our own choice: 0.5 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      `Brings the lips together in ${f.shape}, each by half of what is open; the skin round them goes along.`,
    apply: (c, f) => sealLips(c, f.shape!, f.limit!),
  },
  run: (character, context) => {
    const limit = context.limits["face.lip-seal"];
    const shapes = visemes(character, 1);
    const gauge = limit === null || !shapes.length ? null : gaugeOf(context);
    if (!gauge?.lips || limit === null) return [];
    return shapes.flatMap((shape): Finding[] => {
      const mm = 1000 * whileShaped(character.parts, shape, (now) => lipOpening(gauge, now));
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
});

/** Distance from the lower lip to the upper teeth where f and v are spoken (viseme 2 of MPEG-4). */
export const faceLipTeeth = check({
  id: "face.lip-teeth",
  title: "Lower lip that does not reach the teeth at f, v",
  station: "shapes",
  unit: "mm",
  measures: "least distance from the lower lip to the upper teeth at viseme 2 (f, v)",
  severity: "error",
  limits: { "face.lip-teeth": amount({ film: 1.5, crowd: 3 }) },
  source: "our own choice: 1.5 mm",
  waitsFor: "stance and size",
  run: (character, context) => {
    const limit = context.limits["face.lip-teeth"];
    const shapes = visemes(character, 2);
    const gauge = limit === null || !shapes.length ? null : gaugeOf(context);
    if (!gauge || limit === null) return [];
    return shapes.flatMap((shape): Finding[] => {
      const distance = whileShaped(character.parts, shape, (now) => lipToTeeth(gauge, now));
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
});

/** Shorter figures are children, whose mouths open less, metres. */
const GROWN = 1.5;

/** Opening between the incisors where the mouth is stretched open (action unit 27). */
export const faceJawRange = check({
  id: "face.jaw-range",
  title: "Jaw that opens too little or too far",
  station: "shapes",
  unit: "mm",
  measures: "distance between the incisors' edges at action unit 27, figures over 1.5 m; a note",
  severity: "note",
  limits: { "face.jaw-range": span(35, 60) },
  source: "from memory: 35 to 60 mm between the incisors of adults",
  waitsFor: "stance and size",
  run: (character, context) => {
    const range = context.limits["face.jaw-range"];
    const shape = shapeOfUnit(character, 27);
    const gauge = range && shape && statureOf(character) > GROWN ? gaugeOf(context) : null;
    const opening = gauge && whileShaped(character.parts, shape!, (now) => incisorOpening(gauge, now));
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
});
