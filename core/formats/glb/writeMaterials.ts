import type { Document, Material as GltfMaterial, Texture } from "@gltf-transform/core";
import type { Material, TextureImage } from "../../model/character";

const ALPHA_MODE = { opaque: "OPAQUE", mask: "MASK", blend: "BLEND" } as const;

/** Materials with their textures, in their order. */
export function writeMaterials(document: Document, materials: readonly Material[]): GltfMaterial[] {
  // an image that several materials or slots show is written once
  const textures = new Map<Uint8Array, Texture>();
  const textureOf = ({ name, mimeType, bytes }: TextureImage): Texture => {
    const known =
      textures.get(bytes) ??
      document
        .createTexture(name)
        .setMimeType(mimeType)
        .setImage(bytes as Uint8Array<ArrayBuffer>);
    textures.set(bytes, known);
    return known;
  };
  return materials.map((m) => {
    const out = document
      .createMaterial(m.name)
      .setBaseColorFactor([...m.baseColor])
      .setRoughnessFactor(m.roughness)
      .setMetallicFactor(m.metallic)
      .setDoubleSided(m.doubleSided);
    out.setAlphaMode(ALPHA_MODE[m.opacity]);
    if (m.opacity === "mask") out.setAlphaCutoff(m.alphaCutoff);
    if (m.texture) out.setBaseColorTexture(textureOf(m.texture));
    if (m.emissive) out.setEmissiveFactor([...m.emissive]);
    for (const map of m.maps ?? []) {
      if (map.slot === "normal") out.setNormalTexture(textureOf(map)).setNormalScale(map.strength);
      else if (map.slot === "occlusion") out.setOcclusionTexture(textureOf(map)).setOcclusionStrength(map.strength);
      else if (map.slot === "emissive") out.setEmissiveTexture(textureOf(map));
      else out.setMetallicRoughnessTexture(textureOf(map));
    }
    return out;
  });
}
