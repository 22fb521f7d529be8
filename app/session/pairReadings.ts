import type { ProfileName } from "~core/checks/profile";
import {
  allPairs,
  pairedShapes,
  pairKey,
  worstPairsFirst,
  type PairRow,
  type PairRun,
  type ShapePair,
} from "~core/checks/pairs/readPairs";
import type { Character } from "~core/model/character";
import { baseMark, keepReading, keptReading } from "./kept/keptReadings";
import type { JobOptions } from "~workers/jobPool";
import { shareJob } from "./jobs/pageJobs";
import type { Loaded } from "./session";

/**
 * What was read of a base: rows by pair and what the pair depends on. A pair whose shapes have not changed is never
 * read twice.
 */
const known = new WeakMap<object, Map<string, readonly PairRow[]>>();
const readingsOf = (character: Character): Map<string, readonly PairRow[]> => {
  const held = known.get(character.parts) ?? new Map<string, readonly PairRow[]>();
  known.set(character.parts, held);
  return held;
};

interface Plan {
  readonly shapes: readonly string[];
  readonly pairs: readonly ShapePair[];
  readonly keys: readonly string[];
  readonly missing: readonly ShapePair[];
}
const plans = new WeakMap<Character, Plan>();

/** The pairs of a character, and which of them have yet to be read. */
export function planPairs(character: Character): Plan {
  const held = plans.get(character);
  const readings = readingsOf(character);
  const shapes = held?.shapes ?? pairedShapes(character).map((s) => s.name);
  const pairs = held?.pairs ?? allPairs(shapes.map((name) => character.shapes.find((s) => s.name === name)!));
  const keys = held?.keys ?? pairs.map((p) => pairKey(character, p));
  const plan = { shapes, pairs, keys, missing: pairs.filter((_, i) => !readings.has(keys[i]!)) };
  plans.set(character, plan);
  return plan;
}

/** All that is known of the pairs, worst first; null while none was read. */
export function knownRun(character: Character): PairRun | null {
  const { shapes, pairs, keys, missing } = planPairs(character);
  if (missing.length === pairs.length) return null;
  const readings = readingsOf(character);
  return { rows: worstPairsFirst(keys.flatMap((k) => readings.get(k) ?? [])), shapes, pairCount: pairs.length };
}

/**
 * Takes up what this browser kept of the character's base from before the page was loaded; resolves to whether there
 * was any.
 */
export async function recallReadings(character: Character): Promise<boolean> {
  const held = readingsOf(character);
  if (held.size > 0) return false;
  const kept = await keptReading<readonly (readonly [string, readonly PairRow[]])[]>(
    "pairs",
    baseMark(character),
  ).catch(() => undefined);
  for (const [key, rows] of kept ?? []) if (!held.has(key)) held.set(key, rows);
  return held.size > 0;
}

/** Reads the pairs that are not known yet, shared out to all threads; resolves to how many were read. */
export async function readMissing(loaded: Loaded, profile: ProfileName, options: JobOptions): Promise<number> {
  const { character } = loaded;
  const { missing } = planPairs(character);
  const rows = await shareJob<"pairs", ShapePair, PairRow[]>(
    loaded,
    "pairs",
    missing,
    (some) => ({ pairs: [...some], profile }),
    options,
  );
  const readings = readingsOf(character);
  missing.forEach((p, i) => readings.set(pairKey(character, p), rows[i]!));
  void keepReading("pairs", baseMark(character), [...readings]).catch(() => {}); // they can be read again
  return missing.length;
}
