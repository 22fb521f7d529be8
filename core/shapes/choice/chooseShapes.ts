import { z } from "zod";
import { eyeFrame, shapePlace, SHAPE_REGIONS, type ShapeRegion } from "../../measure/shapeRegion";
import type { Character, Shape } from "../../model/character";
import { humanoidMap } from "../../skeleton/humanoidMap";
import { splitWords } from "../../names/nameWords";
import { poseDriven, readByDrivers } from "../../model/drivenShapes";

export const CHOICE_MANNERS = ["word", "wildcard", "region"] as const;

/** One rule: the shapes it names are kept or left out. Later rules go over earlier ones. */
export const choiceRuleSchema = z.object({
  keep: z.boolean(),
  /**
   * word: a whole word of the name, however it is written; wildcard: the whole name, * and ?; region: where on the
   * figure the shape acts.
   */
  by: z.enum(CHOICE_MANNERS),
  text: z.string().min(1).max(200),
});
export type ChoiceRule = z.infer<typeof choiceRuleSchema>;

/** Rules in order, and shapes that are kept whatever the rules say. */
export const shapeChoiceSchema = z.object({
  rules: z.array(choiceRuleSchema).max(200),
  favourites: z.array(z.string()).max(5000),
});
export type ShapeChoice = z.infer<typeof shapeChoiceSchema>;
export const KEEP_ALL: ShapeChoice = { rules: [], favourites: [] };

/** Why a shape is kept or left out. */
export interface Chosen {
  readonly shape: Shape;
  readonly region: ShapeRegion;
  readonly kept: boolean;
  /** Number of the rule that decided, from 1; "favourite", "driven" or "no rule" where none did. */
  readonly because: number | "favourite" | "driven" | "no rule";
}

/** Regions as rules of earlier ledgers name them. */
const EARLIER: Readonly<Record<string, readonly string[]>> = {
  eyes: ["lids", "gaze"],
  "nose and cheeks": ["nose", "cheeks"],
  mouth: ["lips"],
};

function matcher({ by, text }: ChoiceRule): (shape: Shape, region: string) => boolean {
  if (by === "region") return (_, region) => (EARLIER[text] ?? [text]).includes(region);
  if (by === "wildcard") {
    const pattern = new RegExp(
      `^${text
        .replace(/[.+^${}()|[\]\\]/g, "\\$&")
        .replace(/\*/g, ".*")
        .replace(/\?/g, ".")}$`,
      "iu",
    );
    return (shape) => pattern.test(shape.name) || pattern.test(shape.label);
  }
  const wanted = splitWords(text).join(" ");
  return (shape) =>
    ` ${splitWords(shape.name).join(" ")} `.includes(` ${wanted} `) ||
    ` ${splitWords(shape.label).join(" ")} `.includes(` ${wanted} `);
}

/** Where on the figure each shape acts, those set aside included. */
export function shapeRegions(character: Character): Map<Shape, ShapeRegion> {
  const eyes = eyeFrame(character, character.skeleton && humanoidMap(character.skeleton, character.jointMap));
  return new Map(
    [...character.shapes, ...(character.setAside ?? [])].map((s) => [s, shapePlace(character, s, eyes).region]),
  );
}

/**
 * Every shape of a character, those set aside before included, with what a choice makes of it. What is driven, or
 * drives others, always stays.
 */
export function chosenShapes(
  character: Character,
  { rules, favourites }: ShapeChoice,
  regions = shapeRegions(character),
): Chosen[] {
  const bound = new Set([
    ...poseDriven(character),
    ...readByDrivers(character),
    ...character.shapeDrivers.flatMap((d) => [d.shape, ...d.of]),
    ...(character.mixes ?? []).flatMap((m) => m.shares.map((s) => s.shape)),
  ]);
  const liked = new Set(favourites);
  const tests = rules.map(matcher);
  return [...regions]
    .map(([shape, region]): Chosen => {
      if (bound.has(shape.name)) return { shape, region, kept: true, because: "driven" };
      if (liked.has(shape.name)) return { shape, region, kept: true, because: "favourite" };
      const last = tests.map((test) => test(shape, region)).lastIndexOf(true);
      return last < 0
        ? { shape, region, kept: true, because: "no rule" }
        : { shape, region, kept: rules[last]!.keep, because: last + 1 };
    })
    .sort(
      (a, b) =>
        SHAPE_REGIONS.indexOf(a.region) - SHAPE_REGIONS.indexOf(b.region) ||
        a.shape.name.localeCompare(b.shape.name, "en", { numeric: true }),
    );
}

/**
 * Sets aside what a choice leaves out and brings back what it keeps; nothing is lost, and a later choice may keep it
 * again.
 */
export function chooseShapes(character: Character, choice: ShapeChoice): Character {
  const kept = new Set(
    chosenShapes(character, choice)
      .filter((c) => c.kept)
      .map((c) => c.shape),
  );
  const all = [...character.shapes, ...(character.setAside ?? [])];
  return {
    ...character,
    shapes: all.filter((s) => kept.has(s)),
    setAside: all.filter((s) => !kept.has(s)),
    shapeChoice: choice,
  };
}
