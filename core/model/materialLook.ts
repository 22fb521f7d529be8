import type { Material } from "./character";

/** Images of a material, base colour first. */
export const imagesOf = (m: Material): Uint8Array[] => [
  ...(m.texture ? [m.texture.bytes] : []),
  ...(m.maps ?? []).map((map) => map.bytes),
];

/** Whether two materials are set alike, whatever they are called, and show the same images. */
export function sameLook(a: Material, b: Material): boolean {
  const settings = (m: Material): string =>
    JSON.stringify({
      ...m,
      name: "",
      texture: null,
      maps: (m.maps ?? []).map(({ slot, strength }) => [slot, strength]),
    });
  const [x, y] = [imagesOf(a), imagesOf(b)];
  return settings(a) === settings(b) && x.length === y.length && x.every((bytes, i) => bytes === y[i]);
}

/** Images of all materials, each counted once. */
export const imageCount = (materials: readonly Material[]): number => new Set(materials.flatMap(imagesOf)).size;

/** How opacity is called to people. */
export const OPACITY_WORDS: Readonly<Record<Material["opacity"], string>> = {
  opaque: "opaque",
  mask: "cut off",
  blend: "blended",
};
