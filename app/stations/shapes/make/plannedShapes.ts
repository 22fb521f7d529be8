import { mirrorName } from "~core/correctives/mirrorCorrective";
import { shapeNamed, type Character } from "~core/model/character";
import type { DerivedItem } from "~core/shapes/deriveShapes";

export const DERIVE_WAYS = ["mix", "mirror", "sides", "parts"] as const;
export type DeriveWay = (typeof DERIVE_WAYS)[number];

export interface DeriveChoice {
  readonly way: DeriveWay;
  readonly of: string | null;
  readonly seamMm: number;
  readonly part: string;
  /** Typed by the user; "" for the name that is proposed. */
  readonly name: string;
  readonly weights: Readonly<Record<string, number>>;
}
export interface PlannedShapes {
  readonly items: readonly DerivedItem[];
  /** What a mix is made of, in words. */
  readonly source: string;
  /** Why it cannot be made; "" when it can. */
  readonly refused: string;
}

/** The shapes that a choice would make, with their names, before anything is done. */
export function plannedShapes(character: Character, { way, of, seamMm, part, name, weights }: DeriveChoice): PlannedShapes {
  const shares = Object.entries(weights).filter(([n, w]) => w !== 0 && shapeNamed(character, n)).map(([shape, weight]) => ({ shape, weight }));
  const source = shares.map((s) => `${s.shape} ${s.weight}`).join(" + ");
  const items = ((): DerivedItem[] => {
    const named = (proposed: string, from: DerivedItem["from"]): DerivedItem => {
      const own = name.trim() || proposed;
      return { name: own, label: own, from };
    };
    if (way === "mix") return shares.length ? [named(shares.length === 1 ? `${shares[0]!.shape}_at_${shares[0]!.weight}` : "new mix", { way: "mix", of: shares })] : [];
    if (!of) return [];
    if (way === "mirror") return [named(mirrorName(of), { way: "mirror", of })];
    if (way === "parts") return [named(`${of}_${part.replaceAll(" ", "_")}`, { way: "parts", of, parts: [part] })];
    return (["left", "right"] as const).map((side): DerivedItem => ({ name: `${of}_${side}`, label: `${of}, ${side}`, from: { way: "side", of, side, seamMm } }));
  })();
  const taken = items.find((i) => shapeNamed(character, i.name));
  return { items, source, refused: taken ? `${taken.name} is there already.` : "" };
}
