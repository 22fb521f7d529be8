import type { Character } from "../model/character";
import { makeRig, type Rig } from "../deform/rig";
import { humanoidMap } from "../skeleton/humanoidMap";
import type { Tick } from "../measure/sweepMotion";
import { likelyUnit, statureOf } from "../measure/stature";
import { scaleStance } from "./delivery/scaleStance";
import { scaleStature } from "./delivery/scaleStature";
import { withoutRepeats } from "./withoutRepeats";
import { CHECKS } from "./entries";
import type { Check } from "./check";
import { compareFindings, type Finding } from "./finding";
import type { Profile } from "./profile";

export interface CheckRun {
  readonly findings: Finding[];
  readonly summary: { error: number; warn: number; note: number };
}

/** Runs the checks one by one; the same character and profile always give the same findings in the same order. */
export async function runChecks(
  character: Character,
  profile: Profile,
  options: { only?: readonly string[]; rig?: Rig; tick?: Tick } = {},
): Promise<CheckRun> {
  const chosen = CHECKS.filter((c) => !profile.off.includes(c.id) && (!options.only || options.only.includes(c.id)));
  const context = {
    rig: options.rig ?? makeRig(character),
    humanoid: character.skeleton ? humanoidMap(character.skeleton, character.jointMap) : null,
    profileName: profile.name,
    limits: profile.limits as never,
    cache: new Map<string, unknown>(),
  };
  const known = new Map<Check, Finding[]>();
  const run = (check: Check): Finding[] => {
    const found = known.get(check) ?? check.run(character, context);
    known.set(check, found);
    return found;
  };
  const wrong = (check: Check): boolean => !profile.off.includes(check.id) && run(check).length > 0;
  // a figure that lies down has no left and no front that a check could go by: one finding says so
  const lies = wrong(scaleStance as Check);
  // nor a size in a unit that it is not in; a small piece without a skeleton may be a piece
  const slips =
    likelyUnit(statureOf(character)) !== null &&
    (character.skeleton !== null || statureOf(character) > 1) &&
    wrong(scaleStature as Check);
  const waits = ({ waitsFor }: Check): boolean =>
    (lies && waitsFor !== undefined) || (slips && waitsFor === "stance and size");
  const findings: Finding[] = [];
  for (const [i, check] of chosen.entries()) {
    await options.tick?.(i, chosen.length);
    if (!waits(check)) findings.push(...run(check));
  }
  const kept = withoutRepeats(character, findings).sort(compareFindings);
  return { findings: kept, summary: summarize(kept) };
}

export const summarize = (findings: readonly Finding[]): CheckRun["summary"] => ({
  error: findings.filter((f) => f.severity === "error").length,
  warn: findings.filter((f) => f.severity === "warn").length,
  note: findings.filter((f) => f.severity === "note").length,
});
