import type { Character } from "../model/character";

/**
 * One field: its items, by place in the former list where they are the same object; or its value. Fields that stayed
 * are not there.
 */
type FieldChange = { readonly items: readonly (number | { readonly item: unknown })[] } | { readonly value: unknown };
export type CharacterPatch = Readonly<Record<string, FieldChange>>;

/**
 * What turns one character into another without what both share, so that it is sent quickly and what is shared stays
 * the same object.
 */
export function patchBetween(before: Character | null, after: Character): CharacterPatch {
  const patch: Record<string, FieldChange> = {};
  for (const key of new Set([...Object.keys(before ?? {}), ...Object.keys(after)])) {
    const [old, value] = [before?.[key as keyof Character] as unknown, after[key as keyof Character] as unknown];
    if (old === value) continue;
    if (!Array.isArray(value) || !Array.isArray(old)) patch[key] = { value };
    else {
      const places = new Map(old.map((item, i) => [item as unknown, i]));
      patch[key] = {
        items: value.map((item: unknown) => (typeof item === "object" ? (places.get(item) ?? { item }) : { item })),
      };
    }
  }
  return patch;
}

/** The character that a patch makes of the one it was made against. */
export function patched(before: Character | null, patch: CharacterPatch): Character {
  const out: Record<string, unknown> = { ...before };
  for (const [key, change] of Object.entries(patch)) {
    if ("items" in change)
      out[key] = change.items.map((x) =>
        typeof x === "number" ? (before![key as keyof Character] as unknown[])[x] : x.item,
      );
    else if (change.value === undefined) delete out[key];
    else out[key] = change.value;
  }
  return out as unknown as Character;
}
