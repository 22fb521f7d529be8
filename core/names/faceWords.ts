import { splitWords } from "./nameWords";

export type FaceSide = "left" | "right";
/** A movement of the face that a name speaks of: an action unit (Ekman & Friesen 1978), and on which side. */
export interface Movement {
  readonly unit: number;
  readonly side: FaceSide | null;
}
/** The movements that a name speaks of, and how plainly: by number or in full, or with words to spare. */
export interface FaceReading {
  readonly movements: readonly Movement[];
  readonly plain: boolean;
}
const NOTHING: FaceReading = { movements: [], plain: false };

/** Words of the trade for places and movements of a face; those of one line mean the same. */
const SAME: readonly (readonly string[])[] = [
  ["brow", "brows", "eyebrow", "eyebrows"],
  ["lid", "lids", "eyelid", "eyelids"],
  ["eye", "eyes"],
  ["cheek", "cheeks"],
  ["nose", "nostril", "nostrils"],
  ["lip", "lips"],
  ["mouth"],
  ["corner", "corners"],
  ["jaw", "mandible"],
  ["chin", "mentalis"],
  ["tongue"],
  ["up", "raise", "raised", "raiser", "lift", "lifted", "lifter", "upward", "upwards"],
  ["down", "lowerer", "lowered", "depress", "depressed", "depressor", "downward", "downwards"],
  ["upper", "top"],
  ["lower", "bottom"],
  ["inner", "inside", "inward", "in"],
  ["outer", "outside", "outward", "out"],
  ["wide", "widen", "widened", "widener"],
  ["open", "opened", "opener", "drop", "dropped", "part", "parted", "apart"],
  ["close", "closed", "closer", "shut"],
  ["blink", "wink"],
  ["tight", "tighten", "tightened", "tightener", "squint", "squeeze", "narrow"],
  ["smile", "grin"],
  ["pull", "pulled", "puller"],
  ["frown", "furrow", "knit"],
  ["sneer", "wrinkle", "wrinkled", "wrinkler", "scrunch"],
  ["pucker", "puckered", "puckerer", "kiss"],
  ["funnel", "funneler"],
  ["stretch", "stretched", "stretcher"],
  ["press", "pressed", "pressor"],
  ["suck", "sucked", "roll", "rolled", "tuck"],
  ["puff", "puffed", "blow", "blown", "inflate", "inflated"],
  ["dimple", "dimpler"],
  ["nasolabial", "deepener"],
  ["sharp"],
  ["forward", "thrust", "protrude", "protruded"],
  ["look", "gaze"],
];
const MEANS = new Map(SAME.flatMap((line) => line.map((word) => [word, line[0]!] as const)));
const SIDES: Readonly<Record<string, FaceSide>> = {
  left: "left",
  l: "left",
  lt: "left",
  right: "right",
  r: "right",
  rt: "right",
};
/** What a number stands behind where it is that of an action unit. */
const NUMBERED = new Set(["au", "unit", "facs"]);

/** Movements and the words that name them, all of which must be there; of two that fit, that with more words. */
const PATTERNS: readonly (readonly [units: readonly number[], words: string])[] = [
  [[1], "brow inner up"],
  [[1], "brow inner"],
  [[2], "brow outer up"],
  [[2], "brow outer"],
  [[1, 2], "brow up"],
  [[4], "brow down"],
  [[4], "brow lower"],
  [[4], "brow frown"],
  [[4], "brow tight"],
  [[5], "eye wide"],
  [[5], "lid wide"],
  [[5], "lid upper up"],
  [[6], "cheek up"],
  [[6], "cheek tight"],
  [[7], "lid tight"],
  [[7], "eye tight"],
  [[43], "eye close"],
  [[43], "lid close"],
  [[43], "blink"],
  [[9], "nose sneer"],
  [[9], "sneer"],
  [[9], "nose up"],
  [[10], "lip upper up"],
  [[10], "mouth upper up"],
  [[11], "nasolabial"],
  [[13], "sharp pull"],
  [[12], "smile"],
  [[12], "corner pull"],
  [[12], "corner up"],
  [[14], "dimple"],
  [[15], "mouth frown"],
  [[15], "corner down"],
  [[16], "lip lower down"],
  [[16], "mouth lower down"],
  [[17], "chin up"],
  [[18], "pucker"],
  [[22], "funnel"],
  [[20], "mouth stretch"],
  [[20], "lip stretch"],
  [[23], "lip tight"],
  [[23], "mouth tight"],
  [[24], "lip press"],
  [[24], "mouth press"],
  [[25], "lip open"],
  [[26], "jaw open"],
  [[26], "jaw down"],
  [[26], "mouth open"],
  [[28], "lip suck"],
  [[28], "mouth suck"],
  [[29], "jaw forward"],
  [[29], "chin forward"],
  [[19], "tongue outer"],
  [[19], "tongue forward"],
  [[34], "cheek puff"],
  [[35], "cheek suck"],
  [[63], "look up"],
  [[64], "look down"],
];
/** Words that say little of what moves: one of them to spare leaves a name plain. */
const QUIET = new Set(["eye", "lip", "mouth", "lower", "upper"]);

const SPLIT_PATTERNS = PATTERNS.map(([units, text]) => [units, text.split(" ")] as const);

/** A word written together as words of the face, "browdownleft"; itself where it is none. */
function takenApart(word: string): readonly string[] {
  if (MEANS.has(word) || SIDES[word] || NUMBERED.has(word)) return [word];
  const best: (readonly string[] | null)[] = [[]];
  for (let end = 1; end <= word.length; end++) {
    best[end] = null;
    for (let from = 0; from < end; from++) {
      const part = word.slice(from, end);
      const before = best[from];
      if (!before || !(MEANS.has(part) || (part.length > 1 && SIDES[part]) || (end === word.length && SIDES[part])))
        continue;
      if (!best[end] || before.length + 1 < best[end]!.length) best[end] = [...before, part];
    }
  }
  const found = best[word.length];
  return found && found.length > 1 ? found : [word];
}

/** What a name says of the face, its side as `left`, `l`, `L`, `(left)`; words may stand in any order. */
export function readFaceName(name: string): FaceReading {
  const words = splitWords(name).flatMap(takenApart);
  const side = words.map((w) => SIDES[w]).find(Boolean) ?? null;
  const number = words.findIndex((w, i) => NUMBERED.has(words[i - 1] ?? "") && /^\d{1,2}$/.test(w));
  if (number >= 0) return { movements: [{ unit: Number(words[number]), side }], plain: true };
  const said = words.flatMap((w) => MEANS.get(w) ?? []);
  const has = new Set(said);
  if (has.has("look") || (has.has("eye") && side && said.length === 1)) {
    const looks = gazeOf(has, words);
    if (looks.length) return { movements: looks, plain: has.has("look") };
  }
  // a jaw that goes sideways: the side is where it goes
  if (has.has("jaw") && side && !has.has("open") && !has.has("forward"))
    return { movements: [{ unit: 30, side }], plain: said.length === 1 };
  let best: { readonly units: readonly number[]; readonly words: readonly string[] } | null = null;
  for (const [units, wanted] of SPLIT_PATTERNS) {
    if (wanted.every((w) => has.has(w)) && (!best || wanted.length > best.words.length))
      best = { units, words: wanted };
  }
  if (!best) return NOTHING;
  const { units, words: used } = best;
  const over = [...has].filter((w) => !used.includes(w) && !QUIET.has(w));
  return { movements: units.map((unit) => ({ unit, side })), plain: over.length === 0 && units.length === 1 };
}

/** Where eyes look: up, down, to a side, or in and out of the eye that is named. */
function gazeOf(has: ReadonlySet<string>, words: readonly string[]): Movement[] {
  const sides = words.flatMap((w) => SIDES[w] ?? []);
  const [eye = null] = sides;
  if (has.has("up") || has.has("down")) return [{ unit: has.has("up") ? 63 : 64, side: eye }];
  const toLeft: Movement[] = [{ unit: 61, side: null }];
  if (has.has("inner") || has.has("outer")) {
    if (!eye) return [];
    return [{ unit: has.has("outer") === (eye === "left") ? 61 : 62, side: eye }];
  }
  if (!eye) return [];
  const goes = sides[sides.length - 1]!;
  const of = sides.length > 1 ? eye : null;
  return goes === "left" ? toLeft.map((m) => ({ ...m, side: of })) : [{ unit: 62, side: of }];
}
