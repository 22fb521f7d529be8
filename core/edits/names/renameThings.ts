import { renameJoints } from "../../skeleton/renameJoints";
import type { Character, Clip, WeightTrack } from "../../model/character";
import { UserError } from "../../model/userError";
import { ofRenamedShapes } from "../../model/changeDrivers";

export const RENAMED_KINDS = ["joints", "parts", "shapes", "clips", "materials"] as const;
export type RenamedKind = (typeof RENAMED_KINDS)[number];

export function namesOf(character: Character, kind: RenamedKind): string[] {
  return (kind === "joints" ? (character.skeleton?.joints ?? []) : character[kind]).map(
    (x: { name: string }) => x.name,
  );
}

/**
 * The character with things of one kind renamed, and everything that speaks of them. @throws UserError for a name that
 * is not there, empty, or given twice; then nothing has changed.
 */
export function renameThings(character: Character, kind: RenamedKind, names: ReadonlyMap<string, string>): Character {
  if (kind === "joints") return renameJoints(character, names);
  const old = namesOf(character, kind);
  const to = (name: string): string => names.get(name) ?? name;
  for (const [from, name] of names) {
    if (!old.includes(from)) throw new UserError(`There is nothing named ${from} among the ${kind}.`, "rename", "");
    if (!name.trim()) throw new UserError(`${from} would have no name.`, "rename", "Give it one.");
  }
  const after = old.map(to);
  const twice = after.find(
    (name, i) => after.indexOf(name) !== i && names.size > 0 && [...names.values()].includes(name),
  );
  if (twice !== undefined)
    throw new UserError(
      `Two ${kind} would be named ${twice}.`,
      "rename",
      "Change the rule so that each keeps a name of its own.",
    );
  if (kind === "parts")
    return {
      ...character,
      parts: character.parts.map((p) => (names.has(p.name) ? { ...p, name: to(p.name) } : p)),
      ...(character.follows ? { follows: character.follows.map((f) => ({ ...f, part: to(f.part) })) } : {}),
    };
  if (kind === "clips")
    return { ...character, clips: character.clips.map((c) => (names.has(c.name) ? { ...c, name: to(c.name) } : c)) };
  if (kind === "materials")
    return {
      ...character,
      materials: character.materials.map((m) => (names.has(m.name) ? { ...m, name: to(m.name) } : m)),
    };
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      names.has(s.name) ? { ...s, name: to(s.name), label: s.label === s.name ? to(s.name) : s.label } : s,
    ),
    drivers: character.drivers.map((d) => ({ ...d, shape: to(d.shape) })),
    shapeDrivers: character.shapeDrivers.map((d) => ({ ...d, shape: to(d.shape), of: d.of.map(to) })),
    ...ofRenamedShapes(character, to),
    clips: character.clips.map((c) => renamedWeights(c, to)),
    ...(character.baked ? { baked: character.baked.map((b) => ({ ...b, shape: to(b.shape) })) } : {}),
    ...(character.mixes
      ? { mixes: character.mixes.map((m) => ({ ...m, shares: m.shares.map((x) => ({ ...x, shape: to(x.shape) })) })) }
      : {}),
  };
}

/** A clip whose weights play shapes under their new names. */
function renamedWeights(clip: Clip, to: (name: string) => string): Clip {
  const of = (weights: readonly WeightTrack[]): WeightTrack[] => weights.map((w) => ({ ...w, shape: to(w.shape) }));
  const { fit, weights } = clip;
  return {
    ...clip,
    ...(weights ? { weights: of(weights) } : {}),
    ...(fit?.weights ? { fit: { ...fit, weights: of(fit.weights) } } : {}),
  };
}
