import { PROFILES, type Profile } from "../checks/profile";
import { runChecks } from "../checks/runChecks";
import type { Tick } from "../measure/sweepMotion";
import type { Character } from "../model/character";
import { isUserError, UserError } from "../model/userError";
import { applyStep, describeStep, type BlobSource } from "./applyStep";
import { carriedBySurface } from "./deltasBlob";
import type { Repair } from "../repairs/repairs";
import type { Derivation } from "../shapes/deriveShapes";
import { deliveryNames, matchNames, type DeliveryNames, type NameMatches } from "./relinkNames";
import { movementOfStep, type Step } from "./steps";

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

type Rename = (name: string) => string;
/** What the joints, parts, shapes and clips of a step are to be called. */
export interface StepNames {
  readonly joint: Rename;
  readonly part: Rename;
  readonly shape: Rename;
  readonly clip: Rename;
}

/** The step with the names it speaks of changed; names that it gives to something new stay. */
export function renamedStep(step: Step, { joint, part, shape, clip }: StepNames): Step {
  const or = <T extends string | null>(change: (name: string) => string, name: T): T =>
    (name === null ? name : change(name)) as T;
  switch (step.op) {
    case "map joint":
      return { ...step, joint: joint(step.joint) };
    case "map joints":
      return { ...step, map: Object.fromEntries(Object.entries(step.map).map(([j, bone]) => [joint(j), bone])) };
    case "make correctives":
      return {
        ...step,
        items: step.items.map((i) => ({ ...i, driver: { ...i.driver, joint: joint(i.driver.joint) } })),
        ...(step.edits ? { edits: step.edits.map((e) => ({ ...e, name: shape(e.name) })) } : {}),
      };
    case "set driver":
      return {
        ...step,
        name: shape(step.name),
        driver: step.driver.joint === undefined ? step.driver : { ...step.driver, joint: joint(step.driver.joint) },
      };
    case "edit corrective":
    case "remove corrective":
      return { ...step, name: shape(step.name) };
    case "add shapes":
      return {
        ...step,
        items: step.items.map((i) => (i.driver ? { ...i, driver: { ...i.driver, of: i.driver.of.map(shape) } } : i)),
      };
    case "derive shapes":
      return {
        ...step,
        items: step.items.map((i) => ({
          ...i,
          from: derivedFrom(i.from, shape, part),
          ...(i.driver ? { driver: { ...i.driver, of: i.driver.of.map(shape) } } : {}),
        })),
      };
    case "edit shapes":
      return { ...step, items: step.items.map((i) => ({ ...i, name: shape(i.name) })) };
    case "set shape driver":
      return {
        ...step,
        name: shape(step.name),
        driver: step.driver.of ? { ...step.driver, of: step.driver.of.map(shape) } : step.driver,
      };
    case "set mix":
      return {
        ...step,
        mixes: step.mixes.map((m) => ({ ...m, shares: m.shares.map((x) => ({ ...x, shape: shape(x.shape) })) })),
      };
    case "bake":
      return { ...step, weights: Object.fromEntries(Object.entries(step.weights).map(([n, w]) => [shape(n), w])) };
    case "new face":
      return {
        ...step,
        jointOffsets: step.jointOffsets.map((o) => ({ ...o, joint: joint(o.joint) })),
        shapes: step.shapes.map((s) => ({ ...s, name: shape(s.name) })),
      };
    case "choose shapes":
      return { ...step, choice: { ...step.choice, favourites: step.choice.favourites.map(shape) } };
    case "stop following":
      return { ...step, part: part(step.part) };
    case "follow skin":
      return {
        ...step,
        follow: {
          ...step.follow,
          part: part(step.follow.part),
          ...(step.follow.shapes ? { shapes: step.follow.shapes.map(shape) } : {}),
        },
      };
    case "remove mix":
    case "vrm terms":
      return step;
    case "remove shapes":
      return { ...step, names: step.names.map(shape) };
    case "bind in pose":
      return { ...step, pose: Object.fromEntries(Object.entries(step.pose).map(([j, angles]) => [joint(j), angles])) };
    case "add parts":
    case "add clips":
      return step;
    case "add joints":
      return { ...step, joints: step.joints.map((j) => ({ ...j, parent: joint(j.parent) })) };
    case "retarget pose":
      return step.turns
        ? { ...step, turns: Object.fromEntries(Object.entries(step.turns).map(([j, q]) => [joint(j), q])) }
        : step;
    // textures that were made of those of another delivery are made anew
    case "repair":
      return { ...withoutMade(step), repair: repairHere(step.repair, { joint, part, shape }) };
    case "paint weights":
      return { ...step, part: part(step.part), joints: step.joints.map(joint) };
    case "part kind":
      return { ...step, part: part(step.part) };
    case "change weights":
      return {
        ...step,
        part: part(step.part),
        change: {
          ...step.change,
          locked: step.change.locked.map(joint),
          source: step.change.source && part(step.change.source),
        },
      };
    case "remove clips":
      return { ...step, names: step.names.map(clip) };
    case "drive shapes":
      return {
        ...step,
        items: step.items.map((i) => ({
          name: shape(i.name),
          driver: i.driver && { ...i.driver, joint: joint(i.driver.joint) },
          rule: i.rule && { ...i.rule, of: i.rule.of.map(shape) },
        })),
      };
    case "mend all":
      return {
        ...step,
        places: step.places.map((p) => ({
          ...p,
          part: or(part, p.part),
          joint: or(joint, p.joint),
          shape: or(shape, p.shape),
          clip: or(clip, p.clip),
        })),
      };
    case "rename": {
      const change = { joints: joint, parts: part, shapes: shape, clips: clip, materials: (n: string): string => n }[
        step.kind
      ];
      return { ...step, names: step.names.map((n) => ({ ...n, from: change(n.from) })) };
    }
    case "mend":
      return {
        ...withoutMade(step),
        part: or(part, step.part),
        joint: or(joint, step.joint),
        shape: or(shape, step.shape),
        clip: or(clip, step.clip),
      };
    case "accept finding":
    case "reopen finding":
      return {
        ...step,
        part: or(part, step.part),
        joint: or(joint, step.joint),
        shape: or(shape, step.shape),
        clip: or(clip, step.clip),
      };
  }
}

const withoutMade = <T extends { made?: unknown }>({ made: _, ...step }: T): Omit<T, "made"> => step;

/** A repair with what its names are called here. */
function repairHere(repair: Repair, { joint, part, shape }: { joint: Rename; part: Rename; shape: Rename }): Repair {
  if ("part" in repair) return { ...repair, part: part(repair.part) };
  if (repair.what === "refit") return { ...repair, shapes: repair.shapes.map(shape) };
  if (repair.what === "hang joint")
    return { ...repair, joint: joint(repair.joint), under: repair.under && joint(repair.under) };
  return repair.what === "place joint" ? { ...repair, joint: joint(repair.joint) } : repair;
}

function derivedFrom(from: Derivation, shape: (name: string) => string, part: (name: string) => string): Derivation {
  if (from.way === "mix") return { ...from, of: from.of.map((s) => ({ ...s, shape: shape(s.shape) })) };
  return from.way === "parts"
    ? { ...from, of: shape(from.of), parts: from.parts.map(part) }
    : { ...from, of: shape(from.of) };
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
