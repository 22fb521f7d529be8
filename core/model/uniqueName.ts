import { cleanName } from "./cleanName";

/**
 * The name itself, made safe to keep, or with the first free number behind it; empty names become `fallback`. Adds the
 * result to `taken`.
 */
export function uniqueName(name: string, taken: Set<string>, fallback: string): string {
  const clean = cleanName(name);
  const base = clean.trim() === "" ? fallback : clean;
  let unique = base;
  for (let n = 2; taken.has(unique); n++) unique = `${base} ${n}`;
  taken.add(unique);
  return unique;
}
