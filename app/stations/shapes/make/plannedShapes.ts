import { mirrorName } from "~core/shapes/mirrorDeltas";
import { withDrivenWeights } from "~core/evaluate/drivers/driverWeight";
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
  /** A shape at full that is taken off the mix, so that the new one is the difference to it. */
  readonly less?: string | null;
}
export interface PlannedShapes {
  readonly items: readonly DerivedItem[];
  /** What a mix is made of, in words. */
  readonly source: string;
  /** Why it cannot be made; "" when it can. */
  readonly refused: string;
}

/** The shapes that a choice would make, with their names, before anything is done. */
export function plannedShapes(
  character: Character,
  { way, of, seamMm, part, name, weights, less = null }: DeriveChoice,
): PlannedShapes {
  // what the face shows: the weights, what they drive, less what is taken off
  const shown = withDrivenWeights(character, new Map(Object.entries(weights)));
  if (less && shown.size) shown.set(less, (shown.get(less) ?? 0) - 1);
  const shares = [...shown]
    .filter(([n, w]) => Math.abs(w) > 1e-6 && shapeNamed(character, n))
    .map(([shape, weight]) => ({ shape, weight: Number(weight.toFixed(6)) }));
  const source = shares
    .map((s, i) => `${i > 0 ? (s.weight < 0 ? "− " : "+ ") : s.weight < 0 ? "−" : ""}${s.shape} ${Math.abs(s.weight)}`)
    .join(" ");
  const items = ((): DerivedItem[] => {
    const named = (proposed: string, from: DerivedItem["from"]): DerivedItem => {
      const own = name.trim() || proposed;
      return { name: own, label: own, from };
    };
    if (way === "mix")
      return shares.length
        ? [
            named(
              less
                ? `mix_less_${less}`
                : shares.length === 1
                  ? `${shares[0]!.shape}_at_${shares[0]!.weight}`
                  : "new mix",
              { way: "mix", of: shares },
            ),
          ]
        : [];
    if (!of) return [];
    if (way === "mirror") return [named(mirrorName(of), { way: "mirror", of })];
    if (way === "parts") return [named(`${of}_${part.replaceAll(" ", "_")}`, { way: "parts", of, parts: [part] })];
    return (["left", "right"] as const).map((side): DerivedItem => ({
      name: `${of}_${side}`,
      label: `${of}, ${side}`,
      from: { way: "side", of, side, seamMm },
    }));
  })();
  const taken = items.find((i) => shapeNamed(character, i.name));
  return { items, source, refused: taken ? `${taken.name} is there already.` : "" };
}
