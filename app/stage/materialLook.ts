import { Color, DoubleSide, FrontSide, MeshLambertMaterial, MeshStandardMaterial, type Texture } from "three";
import type { Material } from "~core/model/character";
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

/** Smoother than this no lamp of the room shows as more than a point. */
const LEAST_ROUGH = 0.3;
/** Fainter than this nothing of a blended surface is drawn. */
const FAINT = 0.02;
/** What is denser than this of a blended texture is solid: it is drawn first and hides what lies behind it. */
const SOLID = 0.95;

export type DrawnMaterial = MeshStandardMaterial | MeshLambertMaterial;
/** With highlights, or without, at half the work: roughness and metalness do not show then. */
export type Shading = "full" | "matt";

/** A material as three draws it; the colours of the vertices are laid over its own. */
export function drawnMaterial(of: Material, shading: Shading = "full"): DrawnMaterial {
  const common = {
    vertexColors: true,
    side: of.doubleSided ? DoubleSide : FrontSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  };
  const out =
    shading === "matt"
      ? new MeshLambertMaterial(common)
      : new MeshStandardMaterial({ ...common, roughness: Math.max(LEAST_ROUGH, of.roughness), metalness: 0 });
  out.name = of.name;
  if (of.baseColor[3] < 1) {
    out.transparent = true;
    out.opacity = of.baseColor[3];
    out.depthWrite = false;
  }
  if (of.opacity === "mask") out.alphaTest = of.alphaCutoff;
  return out;
}

/** Whether a material is blended by its texture: it is drawn in two passes, solid parts and then their soft fringe. */
export const hasFringe = (of: Material): boolean =>
  of.opacity === "blend" && of.texture !== null && of.baseColor[3] === 1;

/** The second pass of such a material: over the solid parts, hiding nothing, so that no order of faces shows. */
export function fringeMaterial(of: Material, shading: Shading = "full"): DrawnMaterial {
  const out = drawnMaterial(of, shading);
  out.transparent = true;
  out.depthWrite = false;
  out.alphaTest = FAINT;
  return out;
}

const WHITE = [1, 1, 1] as const;
const BLACK = new Color(0, 0, 0);

/** Gives a drawn material its own look, or with no maps the plain one under clay and readings. */
export function setMaps(out: DrawnMaterial, of: Material, maps: MaterialMaps, natural: boolean): void {
  const shown = natural ? maps : NO_MAPS;
  const strength = (slot: string): number => of.maps?.find((m) => m.slot === slot)?.strength ?? 1;
  const solid = natural && hasFringe(of) && maps.base !== null && out.depthWrite;
  const [r, g, b] = of.baseColor;
  const glossy = out instanceof MeshStandardMaterial ? out : null;
  const now = [shown.base, shown.normal, shown.occlusion, shown.emissive, glossy && shown.roughMetal];
  const was = [out.map, out.normalMap, out.aoMap, out.emissiveMap, glossy && glossy.roughnessMap];
  out.color.setRGB(...(natural ? ([r, g, b] as const) : WHITE));
  if (glossy) {
    glossy.metalness = natural ? of.metallic : 0;
    glossy.roughness = shown.roughMetal ? of.roughness : Math.max(LEAST_ROUGH, of.roughness);
  }
  out.emissive.copy(natural && of.emissive ? new Color().setRGB(...of.emissive) : BLACK);
  if (now.every((x, i) => x === was[i])) return;
  out.map = shown.base;
  out.normalMap = shown.normal;
  // without tangents the second axis of a normal map runs the other way, as texture coordinates count from the top
  out.normalScale.set(strength("normal"), -strength("normal"));
  out.aoMap = shown.occlusion;
  out.aoMapIntensity = strength("occlusion");
  out.emissiveMap = shown.emissive;
  if (glossy) glossy.roughnessMap = glossy.metalnessMap = shown.roughMetal;
  if (out.depthWrite && of.opacity !== "mask") out.alphaTest = solid ? SOLID : 0;
  out.needsUpdate = true;
}
