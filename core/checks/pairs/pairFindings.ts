import { FACE_MEASURES, makeFaceGauge, readFace, type FaceMeasure, type FaceReading } from "../../measure/faceGauge";
import { eyeFrame, shapePlace, SHAPE_REGIONS } from "../../measure/shapeRegion";
import type { Tick } from "../../measure/sweepMotion";
import { makeRig } from "../../deform/rig";
import { isDriven, type Character, type Shape } from "../../model/character";
import { UserError } from "../../model/userError";
import { shapeMeaning } from "../../shapes/shapeMeaning";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { compareFindings, finding, type Finding } from "../finding";
import type { Profile } from "../profile";

/** One measure of two shapes at full together, against the worse of the two alone. */
export interface PairRow {
  readonly a: string;
  readonly b: string;
  readonly measure: FaceMeasure;
  readonly value: number;
  readonly alone: number;
  /** How far the value goes beyond its limit and beyond what either does alone, share of the limit. */
  readonly excess: number;
}

/** Limits of the pair checks; null leaves a measure out. */
const limitOf = (profile: Profile, measure: FaceMeasure): number | null => ({ lipCross: profile.limits["face.lip-cross"], eyeThroughLid: profile.limits["face.eye-through-lid"], stretch: profile.limits["pair.stretch"], flips: 0 })[measure];
const UNITS: Readonly<Record<FaceMeasure, string>> = { lipCross: "mm", eyeThroughLid: "mm", stretch: "ratio", flips: "faces" };
const CHECKS: Readonly<Record<FaceMeasure, string>> = { lipCross: "face.lip-cross", eyeThroughLid: "face.eye-through-lid", stretch: "pair.excess", flips: "pair.excess" };

/** Shapes of the face that are played by themselves: no builds, nothing that is driven, no visemes, expressions or presets, which are mixes already. */
export function pairedShapes(character: Character): Shape[] {
  const eyes = eyeFrame(character, character.skeleton && humanoidMap(character.skeleton, character.jointMap));
  const region = new Map(character.shapes.map((s) => [s, SHAPE_REGIONS.indexOf(shapePlace(character, s, eyes).region)]));
  const names = (a: Shape, b: Shape): number => a.name.localeCompare(b.name, "en", { numeric: true });
  return character.shapes.filter((s) => {
    const meaning = shapeMeaning(s.name);
    return !s.jointOffsets && !isDriven(character, s.name) && (meaning === null || meaning.system === "unit") && SHAPE_REGIONS[region.get(s)!] !== "body";
  }).sort((a, b) => region.get(a)! - region.get(b)! || names(a, b));
}

/** Reads every pair of face shapes at full and lists what goes beyond its limit and beyond either alone, worst first. @throws UserError without a body. */
export async function pairRows(character: Character, profile: Profile, tick: Tick = () => {}): Promise<PairRun> {
  const gauge = makeFaceGauge(makeRig(character));
  if (!gauge) throw new UserError("The character has no body to measure.", character.name, "");
  const shapes = pairedShapes(character);
  const alone = shapes.map((s) => readFace(gauge, [s]));
  const touches = shapes.map((s) => new Set(s.deltas.find((d) => d.part === gauge.part)?.vertices ?? []));
  const meet = (i: number, j: number): boolean => {
    const [few, many] = touches[i]!.size < touches[j]!.size ? [touches[i]!, touches[j]!] : [touches[j]!, touches[i]!];
    for (const v of few) if (many.has(v)) return true;
    return false;
  };
  const rows: PairRow[] = [];
  let pairCount = 0;
  for (let i = 0; i < shapes.length; i++) {
    await tick(i, shapes.length);
    for (let j = i + 1; j < shapes.length; j++) {
      pairCount++;
      // what moves nothing in common cannot be worse together, but for lips that come from two sides
      if (!meet(i, j)) continue;
      const both = readFace(gauge, [shapes[i]!, shapes[j]!]);
      for (const measure of FACE_MEASURES) rows.push(...rowOf(shapes[i]!, shapes[j]!, measure, both, Math.max(alone[i]![measure], alone[j]![measure]), profile));
    }
  }
  await tick(shapes.length, shapes.length);
  rows.sort((x, y) => y.excess - x.excess || x.a.localeCompare(y.a) || x.b.localeCompare(y.b));
  return { rows, shapes: shapes.map((s) => s.name), pairCount };
}

export interface PairRun {
  readonly rows: PairRow[];
  /** Every shape that was paired, region by region from the brows down. */
  readonly shapes: readonly string[];
  readonly pairCount: number;
}

function rowOf(a: Shape, b: Shape, measure: FaceMeasure, both: FaceReading, alone: number, profile: Profile): PairRow[] {
  const limit = limitOf(profile, measure);
  const value = both[measure];
  if (limit === null || value <= limit || value <= alone + 1e-9) return [];
  return [{ a: a.name, b: b.name, measure, value, alone, excess: (value - Math.max(limit, alone)) / Math.max(limit, 1) }];
}

const WORDS: Readonly<Record<FaceMeasure, (value: string) => string>> = {
  lipCross: (v) => `the lips cross by ${v} mm`, eyeThroughLid: (v) => `an eyeball comes ${v} mm through its lid`, stretch: (v) => `skin stretches to ${v} times its length`, flips: (v) => `${v} faces turn inside out`,
};

/** The rows as findings. */
export const pairFindings = (rows: readonly PairRow[], profile: Profile): Finding[] => rows.map((r): Finding => finding({
  check: CHECKS[r.measure], severity: r.measure === "stretch" ? "warn" : "error", pair: [r.a, r.b], value: r.value, unit: UNITS[r.measure], limit: limitOf(profile, r.measure),
  message: `${r.a} and ${r.b} together: ${WORDS[r.measure](r.measure === "flips" ? String(r.value) : r.value.toFixed(2))}, ${r.measure === "flips" ? r.alone : r.alone.toFixed(2)} at most alone. Correct them where they meet.`,
})).sort(compareFindings);
