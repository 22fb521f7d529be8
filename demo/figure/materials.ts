import type { Material } from "../../core/model/character";
import { LOOKS } from "./textures";

/** @param look whose textures it has. */
const material = (name: string, roughness: number, more: Partial<Material> = {}, look = name): Material => ({
  name,
  baseColor: [1, 1, 1, 1],
  roughness,
  metallic: 0,
  opacity: "opaque",
  alphaCutoff: 0.5,
  doubleSided: false,
  texture: LOOKS[look]?.texture ?? null,
  ...(LOOKS[look]?.maps.length ? { maps: LOOKS[look].maps } : {}),
  ...more,
});

/** Places of the materials in MATERIALS. */
export const MATERIAL = {
  skin: 0,
  covered: 1,
  eye: 2,
  lash: 3,
  brow: 4,
  teeth: 5,
  tongue: 6,
  hair: 7,
  tear: 8,
  top: 9,
  trousers: 10,
  shoes: 11,
  soles: 12,
} as const;
export const MATERIALS: readonly Material[] = [
  material("skin", 0.62),
  material("covered skin", 0.62, {}, "skin"),
  material("eye", 0.15),
  material("lash", 0.9, { opacity: "blend", doubleSided: true }),
  material("brow", 0.85, { doubleSided: true }),
  material("teeth", 0.25),
  material("tongue", 0.38),
  material("hair", 0.68, { opacity: "mask" }),
  material("tear line", 0.08, { opacity: "blend", baseColor: [1, 1, 1, 0.4], doubleSided: true }),
  material("top cloth", 0.9, { baseColor: [0.11, 0.185, 0.3, 1], doubleSided: true }),
  material("trouser cloth", 0.9, { baseColor: [0.07, 0.075, 0.095, 1], doubleSided: true }),
  material("shoe leather", 0.55, { baseColor: [0.16, 0.085, 0.045, 1], doubleSided: true }),
  material("shoe sole", 0.8, { baseColor: [0.62, 0.58, 0.5, 1] }),
];
export const CAP_MATERIAL: Material = material("cap wool", 0.95, { doubleSided: true });
