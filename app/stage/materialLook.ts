import { Color, DataTexture, DoubleSide, FrontSide, MeshStandardMaterial, SRGBColorSpace, type Texture } from "three";
import type { Material } from "~core/model/character";
import { FAINT, hasFringe, LEAST_ROUGH, SOLID } from "./lookRules";
import { stageTexture } from "./stageTextures";

/** Decoded textures of a material, by what they are for; null for what it has not. */
export interface MaterialMaps {
  readonly base: Texture | null;
  readonly normal: Texture | null;
  readonly occlusion: Texture | null;
  readonly emissive: Texture | null;
  /** Roughness in green, metalness in blue, as in glTF. */
  readonly roughMetal: Texture | null;
}
export const NO_MAPS: MaterialMaps = { base: null, normal: null, occlusion: null, emissive: null, roughMetal: null };

/** Stands where a material has no texture: one program more would cost more than a white point does. */
export const PLAIN = new DataTexture(new Uint8Array([255, 255, 255, 255]), 1, 1);
PLAIN.colorSpace = SRGBColorSpace;
PLAIN.needsUpdate = true;

/** Decodes all textures of a material. */
export async function loadMaps({ texture, maps = [] }: Material): Promise<MaterialMaps> {
  const of = (slot: (typeof maps)[number]["slot"]): Promise<Texture | null> => {
    const image = maps.find((m) => m.slot === slot);
    return image ? stageTexture(image, slot === "emissive" ? "colour" : "data") : Promise.resolve(null);
  };
  const [base, normal, occlusion, emissive, roughMetal] = await Promise.all([
    texture ? stageTexture(texture) : null,
    of("normal"),
    of("occlusion"),
    of("emissive"),
    of("metallic roughness"),
  ]);
  return { base, normal, occlusion, emissive, roughMetal };
}

/** A material as three draws it; the colours of the vertices are laid over its own. */
export function drawnMaterial(of: Material): MeshStandardMaterial {
  const out = new MeshStandardMaterial({
    vertexColors: true,
    map: PLAIN,
    side: of.doubleSided ? DoubleSide : FrontSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
    roughness: Math.max(LEAST_ROUGH, of.roughness),
    metalness: 0,
    // what is blended and seen from both sides would be drawn twice, by two programs made anew in every frame
    forceSinglePass: true,
  });
  out.name = of.name;
  if (of.baseColor[3] < 1) {
    out.transparent = true;
    out.opacity = of.baseColor[3];
    out.depthWrite = false;
  }
  if (of.opacity === "mask") out.alphaTest = of.alphaCutoff;
  return out;
}

/** The second pass of such a material: over the solid parts, hiding nothing, so that no order of faces shows. */
export function fringeMaterial(of: Material): MeshStandardMaterial {
  const out = drawnMaterial(of);
  out.transparent = true;
  out.depthWrite = false;
  out.alphaTest = FAINT;
  return out;
}

const WHITE = [1, 1, 1] as const;
const BLACK = new Color(0, 0, 0);

/** Gives a drawn material its own look, or with no maps the plain one under clay and readings. */
export function setMaps(out: MeshStandardMaterial, of: Material, maps: MaterialMaps, natural: boolean): void {
  const shown = natural ? maps : NO_MAPS;
  const strength = (slot: string): number => of.maps?.find((m) => m.slot === slot)?.strength ?? 1;
  const solid = natural && hasFringe(of) && maps.base !== null && out.depthWrite;
  const [r, g, b] = of.baseColor;
  const base = shown.base ?? PLAIN;
  const now = [base, shown.normal, shown.occlusion, shown.emissive, shown.roughMetal];
  const was = [out.map, out.normalMap, out.aoMap, out.emissiveMap, out.roughnessMap];
  out.color.setRGB(...(natural ? ([r, g, b] as const) : WHITE));
  out.metalness = natural ? of.metallic : 0;
  out.roughness = shown.roughMetal ? of.roughness : Math.max(LEAST_ROUGH, of.roughness);
  out.emissive.copy(natural && of.emissive ? new Color().setRGB(...of.emissive) : BLACK);
  if (now.every((x, i) => x === was[i])) return;
  out.map = base;
  out.normalMap = shown.normal;
  // without tangents the second axis of a normal map runs the other way, as texture coordinates count from the top
  out.normalScale.set(strength("normal"), -strength("normal"));
  out.aoMap = shown.occlusion;
  out.aoMapIntensity = strength("occlusion");
  out.emissiveMap = shown.emissive;
  out.roughnessMap = out.metalnessMap = shown.roughMetal;
  if (out.depthWrite && of.opacity !== "mask") out.alphaTest = solid ? SOLID : 0;
  out.needsUpdate = true;
}
