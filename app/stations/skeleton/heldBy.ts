import type { Character } from "~core/model/character";

/** Heavier than this a joint alone moves a vertex. */
const WHOLE = 0.999;

export interface Held {
  readonly joint: string;
  readonly vertices: number;
  readonly whole: number;
  readonly parts: readonly string[];
}

/** What each joint holds, most vertices first; joints that hold none are last. */
export function heldBy({ parts, skeleton }: Pick<Character, "parts" | "skeleton">): Held[] {
  const held = (skeleton?.joints ?? []).map(({ name }) => ({
    joint: name,
    vertices: 0,
    whole: 0,
    parts: [] as string[],
  }));
  for (const { name, skin } of parts)
    for (let n = 0; skin && n < skin.weights.length; n++) {
      const of = skin.weights[n]! > 0 ? held[skin.joints[n]!] : undefined;
      if (!of) continue;
      of.vertices++;
      if (skin.weights[n]! > WHOLE) of.whole++;
      if (of.parts[of.parts.length - 1] !== name) of.parts.push(name);
    }
  return held.sort((a, b) => b.vertices - a.vertices);
}
