import type { Mend } from "../edits/mend/mendPlace";
import type { Rig } from "../deform/rig";
import type { SweepRow } from "../measure/sweepMotion";
import type { Character } from "../model/character";
import type { HumanoidMap } from "../skeleton/humanoidMap";
import type { Finding, Severity } from "./finding";

export type CheckStation = "intake" | "skeleton" | "shapes" | "trials";
export const PROFILE_NAMES = ["film", "realtime", "crowd"] as const;
export type ShippedProfile = (typeof PROFILE_NAMES)[number];
export type Span = readonly [lo: number, hi: number];

/** One limit in every shipped profile. `V` is number, or a span; with null where the limit can be turned off. */
export interface Limit<V extends number | Span | null> {
  readonly kind: "amount" | "span";
  /** Whether null may stand in its place. */
  readonly canBeOff: boolean;
  readonly values: Readonly<Record<ShippedProfile, V>>;
}
type Limits = Readonly<Record<string, Limit<number | Span | null>>>;
/** What limits are in a profile. */
export type LimitValues<L> = { readonly [K in keyof L]: L[K] extends Limit<infer V> ? V : never };

const everywhere = <V>(values: { film: V; realtime?: V; crowd?: V }): Record<ShippedProfile, V> => ({
  film: values.film,
  realtime: values.realtime === undefined ? values.film : values.realtime,
  crowd: values.crowd === undefined ? values.film : values.crowd,
});
type Given<V> = V | { film: V; realtime?: V; crowd?: V };
const given = <V extends number | Span | null>(v: Given<V>): { film: V; realtime?: V; crowd?: V } =>
  typeof v === "object" && v !== null && "film" in v ? v : { film: v as V };

/** A number that findings go beyond; the same in all profiles, or that of `film` with others where they differ. */
export const amount = (values: Given<number | null>): Limit<number | null> => ({
  kind: "amount",
  canBeOff: true,
  values: everywhere(given(values)),
});
/** Two numbers between which nothing is found. */
export const span = (lo: number, hi: number): Limit<Span | null> => ({
  kind: "span",
  canBeOff: true,
  values: everywhere<Span | null>({ film: [lo, hi] }),
});
/** A span that no profile can do without. */
export const fixedSpan = (lo: number, hi: number): Limit<Span> => ({
  kind: "span",
  canBeOff: false,
  values: everywhere<Span>({ film: [lo, hi] }),
});

/** What there is to know of a check besides how it is run: docs/checks.md, profiles and stations are made from it. */
export interface CheckEntry<L = Limits> {
  readonly id: string;
  readonly title: string;
  /** Where its findings are worked on. */
  readonly station: CheckStation;
  readonly unit: string;
  /** What it measures, as a phrase. */
  readonly measures: string;
  /** The severest finding it makes. */
  readonly severity: Severity;
  /** Its limits, by their names in a profile. */
  readonly limits: L;
  /** The limit in words, where it is none of a profile. */
  readonly limitWords?: string;
  /** Where the limit comes from. */
  readonly source: string;
  /**
   * What it waits for: an upright figure that faces the front, as sides and heights mean nothing before, and a size in
   * metres; or the upright figure alone.
   */
  readonly waitsFor?: "stance and size" | "stance";
  /** Where findings from two on have one cause: all of them as one sentence. */
  readonly oneCause?: (findings: readonly Finding[]) => string;
  /** A repair that can do no harm. */
  readonly mend?: Mend;
}

export interface CheckContext {
  readonly rig: Rig;
  readonly humanoid: HumanoidMap | null;
  readonly profileName: string;
  /** Tables that several checks of a run need, built on first use. */
  readonly cache: Map<string, unknown>;
}

/** A check of a character at rest. */
export interface Check<L = Limits> extends CheckEntry<L> {
  run(character: Character, context: CheckContext & { readonly limits: LimitValues<L> }): Finding[];
}

/** A check of what a joint does to the skin along one of its motions, correctives acting. */
export interface SweepCheck<L = Limits> extends CheckEntry<L> {
  run(rows: readonly SweepRow[], limits: LimitValues<L>): Finding | null;
}

/** @returns the same, typed by its own limits. */
export const check = <const L extends Limits>(entry: Check<L>): Check<L> => entry;
export const sweepCheck = <const L extends Limits>(entry: SweepCheck<L>): SweepCheck<L> => entry;
export const checkEntry = <const L extends Limits>(entry: CheckEntry<L>): CheckEntry<L> => entry;
