import { PROFILES, type Profile } from "../checks/profile";
import { runChecks } from "../checks/runChecks";
import type { Tick } from "../measure/sweepMotion";
import type { Character } from "../model/character";
import { isUserError, UserError } from "../model/userError";
import { applyStep, type BlobSource } from "./applyStep";
import { carriedBySurface } from "./deltasBlob";
import { deliveryNames, matchNames, type DeliveryNames, type NameMatches } from "../intake/relinkNames";
import { describeStep, movementOfStep, renamedStep, type Step } from "./steps";

/**
 * applied: as it was made; not needed: the delivery does not have the fault; waits: it cannot be applied, for the
 * reason told; applied later, dropped: what was decided of one that waited.
 */
export type Outcome = "applied" | "not needed" | "waits" | "applied later" | "dropped";

export interface ReplayedStep {
  /** With the names of the new delivery. */
  readonly step: Step;
  readonly sentence: string;
  readonly outcome: Outcome;
  /** What else should be known: the reason, or how far geometry was carried; "" when nothing. */
  readonly note: string;
}

export interface Replay {
  readonly character: Character;
  readonly steps: readonly ReplayedStep[];
}

/**
 * Runs a ledger on another delivery of its character. Names are matched; repairs whose fault is not there are left out;
 * a step that cannot be applied is told and passed over, so that the others still run.
 * @param from names of the delivery the steps were made on.
 */
export async function replay(
  base: Character,
  from: DeliveryNames,
  steps: readonly Step[],
  blobs: BlobSource,
  profile: Profile = PROFILES.realtime,
  tick: Tick = () => {},
): Promise<Replay> {
  const matches = matchNames(from, deliveryNames(base));
  let character = base;
  const out: ReplayedStep[] = [];
  for (const [i, made] of steps.entries()) {
    await tick(i, steps.length);
    const step = withNames(made, matches, character);
    const done = (outcome: Outcome, note = ""): void =>
      void out.push({ step, sentence: describeStep(step), outcome, note });
    try {
      if (step.op === "mend") assertThere(character, step);
      if (step.op === "mend all") {
        const { findings } = await runChecks(character, profile, { only: [step.check] });
        const there = step.places.filter((p) =>
          findings.some((f) => f.part === p.part && f.joint === p.joint && f.shape === p.shape && f.clip === p.clip),
        );
        if (there.length === 0) {
          done("not needed", "This delivery has none of these faults.");
          continue;
        }
      }
      if (step.op === "mend" && !(await hasFault(character, step, profile))) {
        done("not needed", "This delivery does not have the fault.");
        continue;
      }
      const after = applyStep(character, step, blobs);
      const farthest = carriedBySurface(
        character,
        movementOfStep(step).flatMap((h) => blobs(h) ?? []),
      );
      character = after;
      done(
        "applied",
        farthest === null ? "" : `Carried over by surface, up to ${(1000 * farthest).toFixed(1)} mm away.`,
      );
    } catch (error) {
      if (!isUserError(error)) throw error;
      done("waits", [error.what, error.todo].filter(Boolean).join(" "));
    }
  }
  await tick(steps.length, steps.length);
  return { character, steps: out };
}

/**
 * @throws UserError when what a repair speaks of is not in the delivery, which is something else than that it has no
 * fault.
 */
function assertThere({ parts, skeleton, shapes, clips }: Character, step: Extract<Step, { op: "mend" }>): void {
  const places = [
    ["part", step.part, parts],
    ["joint", step.joint, skeleton?.joints ?? []],
    ["shape", step.shape, shapes],
    ["clip", step.clip, clips],
  ] as const;
  for (const [what, name, list] of places)
    if (name !== null && !(list as readonly { name: string }[]).some((x) => x.name === name))
      throw new UserError(`This delivery has no ${what} named ${name}.`, step.op, "");
}

async function hasFault(character: Character, step: Extract<Step, { op: "mend" }>, profile: Profile): Promise<boolean> {
  const { findings } = await runChecks(character, profile, { only: [step.check] });
  return findings.some(
    (f) => f.part === step.part && f.joint === step.joint && f.shape === step.shape && f.clip === step.clip,
  );
}

/** The step with every name that the character does not have replaced by what it is called there. */
function withNames(step: Step, matches: NameMatches, character: Character): Step {
  const to =
    (names: ReadonlyMap<string, string>, has: (name: string) => boolean) =>
    (name: string): string => {
      const match = names.get(name);
      return !has(name) && match !== undefined && has(match) ? match : name;
    };
  const joint = to(matches.joints, (n) => character.skeleton?.joints.some((j) => j.name === n) ?? false);
  const part = to(matches.parts, (n) => character.parts.some((p) => p.name === n));
  const shape = to(matches.shapes, (n) => character.shapes.some((s) => s.name === n));
  const clip = to(matches.clips, (n) => character.clips.some((c) => c.name === n));
  return renamedStep(step, { joint, part, shape, clip });
}

export const AIMED_KINDS = ["part", "joint", "shape", "clip"] as const;
/** A name that a step speaks of and a character does not have. */
export interface MissingName {
  readonly kind: (typeof AIMED_KINDS)[number];
  readonly name: string;
}

/** What a step speaks of that a character lacks: where it can be aimed elsewhere. */
export function missingIn(step: Step, { parts, skeleton, shapes, clips }: Character): MissingName[] {
  const here = { part: parts, joint: skeleton?.joints ?? [], shape: shapes, clip: clips } as const;
  const out = new Map<string, MissingName>();
  const ask =
    (kind: MissingName["kind"]) =>
    (name: string): string => {
      if (!(here[kind] as readonly { name: string }[]).some((x) => x.name === name))
        out.set(`${kind} ${name}`, { kind, name });
      return name;
    };
  renamedStep(step, { joint: ask("joint"), part: ask("part"), shape: ask("shape"), clip: ask("clip") });
  return [...out.values()];
}

/**
 * The step aimed at other parts, joints, shapes or clips. @param at by kind and name ("part scarf"), what is meant
 * instead.
 */
export function aimedStep(step: Step, at: Readonly<Record<string, string>>): Step {
  const to =
    (kind: MissingName["kind"]) =>
    (name: string): string =>
      at[`${kind} ${name}`] || name;
  return renamedStep(step, { joint: to("joint"), part: to("part"), shape: to("shape"), clip: to("clip") });
}
