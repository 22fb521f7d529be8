import type { Weights } from "./mouth";

export const mixed = (a: Weights, b: Weights, t: number): Record<string, number> => {
  const out: Record<string, number> = {};
  for (const name in a) out[name] = (1 - t) * a[name]!;
  for (const name in b) out[name] = (out[name] ?? 0) + t * b[name]!;
  return out;
};

/** Speech over what stands under it, of which a share is kept where it moves the lips. */
export function onTop(
  speech: Weights,
  under: Weights,
  keep: number,
  givesWay: (shape: string) => boolean = () => true,
): Record<string, number> {
  const out: Record<string, number> = { ...speech };
  for (const name in under) out[name] = Math.min(1, (out[name] ?? 0) + (givesWay(name) ? keep : 1) * under[name]!);
  return out;
}
