import type { Character, Mix } from "../../model/character";
import { MPEG4_EXPRESSIONS, shapeMeaning, VRM_PRESETS } from "../../names/shapeMeaning";
import { START_MIXES } from "./startMixes";
import { ACTION_UNITS, VISEME_SOUNDS } from "./unitNames";

export const COVERED_SYSTEMS = ["action units", "visemes", "expressions", "presets"] as const;
export type CoveredSystem = (typeof COVERED_SYSTEMS)[number];

/** One thing a face may be asked to do, and what of the character does it. */
export interface CoverageItem {
  readonly system: CoveredSystem;
  /** Key by which the system names it: AU12, viseme_1, joy, happy. */
  readonly key: string;
  /** In words. */
  readonly says: string;
  /** Shapes that do it, one or a left and a right. */
  readonly shapes: readonly string[];
  readonly mix: Mix | null;
  /** half: only one of the two sides. */
  readonly state: "shape" | "mix" | "half" | "missing";
  /** A start for a mix from what the character has; null where too little of it is there. */
  readonly start: Mix | null;
}

/** Shapes by the action unit their name means: both halves, or one for both. */
function unitShapes(character: Character, unit: number): string[] {
  const found = character.shapes.flatMap((s) => {
    const m = shapeMeaning(s.name);
    return m?.system === "unit" && m.unit === unit ? [{ name: s.name, side: m.side }] : [];
  });
  const whole = found.filter((f) => f.side === null);
  return (whole.length ? whole : found).map((f) => f.name);
}

/** The shares of a start mix in the character's own shapes; null where a unit that carries it is missing. */
function startMix(character: Character, name: string): Mix | null {
  const start = START_MIXES[name];
  if (!start) return null;
  const shares: { shape: string; weight: number }[] = [];
  for (const [unit, weight, side] of start) {
    const shapes = unitShapes(character, unit).filter((s) => {
      const m = shapeMeaning(s);
      return side === undefined || (m?.system === "unit" && (m.side === null || m.side === side));
    });
    if (!shapes.length && weight >= CARRIES) return null;
    shares.push(...shapes.map((shape) => ({ shape, weight })));
  }
  return shares.length ? { name, shares } : null;
}
/** A unit with at least this weight cannot be left out of a mix. */
const CARRIES = 0.5;

/** Where a thing to do stands in the character: its shapes, else a mix of its name, else a start for one. */
function itemOf(
  character: Character,
  system: CoveredSystem,
  key: string,
  says: string,
  shapes: readonly string[],
): CoverageItem {
  const mix = character.mixes?.find((m) => m.name === key && m.shares.length > 0) ?? null;
  const state = mix ? "mix" : "missing";
  return {
    system,
    key,
    says,
    shapes,
    mix,
    state: shapes.length ? "shape" : state,
    start: shapes.length || mix ? null : startMix(character, key),
  };
}

/** Whether a name means one side of an action unit. */
function isOneSided(name: string): boolean {
  const m = shapeMeaning(name);
  return m?.system === "unit" && m.side !== null;
}

/** What a character's face can do of the published systems, in their order, and what is missing. */
export function coverage(character: Character): CoverageItem[] {
  const meaning = (test: (m: NonNullable<ReturnType<typeof shapeMeaning>>) => boolean): string[] =>
    character.shapes.flatMap(({ name }) => {
      const m = shapeMeaning(name);
      return m && test(m) ? [name] : [];
    });
  const units = ACTION_UNITS.map(({ unit, name, sided }) => {
    const made = itemOf(character, "action units", `AU${unit}`, name, unitShapes(character, unit));
    const half = sided && made.shapes.length === 1 && isOneSided(made.shapes[0]!);
    return half ? { ...made, state: "half" as const } : made;
  });
  const visemes = VISEME_SOUNDS.map((sounds, i) => {
    const shapes = meaning((m) => m.system === "viseme" && m.viseme === i + 1);
    return itemOf(character, "visemes", `viseme_${i + 1}`, sounds, shapes);
  });
  const named = (system: "expressions" | "presets", of: "expression" | "preset", keys: readonly string[]) =>
    keys.map((key) => {
      const says = key.replace(/([A-Z])/g, " $1").toLowerCase();
      return itemOf(
        character,
        system,
        key,
        says,
        meaning((m) => m.system === of && m.name === key),
      );
    });
  const presets = VRM_PRESETS.filter((p) => p !== "neutral");
  return [
    ...units,
    ...visemes,
    ...named("expressions", "expression", MPEG4_EXPRESSIONS),
    ...named("presets", "preset", presets),
  ];
}
