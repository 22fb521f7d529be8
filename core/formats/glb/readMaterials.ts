import type { Document, Texture } from "@gltf-transform/core";
import type { Material, MaterialMap, TextureImage } from "../../model/character";
import { cleanName } from "../../model/cleanName";

/** The materials of a glTF file, in its order, with the images of the slots that are kept. */
export function readMaterials(document: Document): Material[] {
  return document
    .getRoot()
    .listMaterials()
    .map((m) => {
      const read = (texture: Texture | null): TextureImage | null => {
        const bytes = texture?.getImage();
        return texture && bytes ? { name: texture.getName(), mimeType: texture.getMimeType(), bytes } : null;
      };
      const maps = (
        [
          ["normal", m.getNormalTexture(), m.getNormalTextureInfo(), m.getNormalScale()],
          ["metallic roughness", m.getMetallicRoughnessTexture(), m.getMetallicRoughnessTextureInfo(), 1],
          ["occlusion", m.getOcclusionTexture(), m.getOcclusionTextureInfo(), m.getOcclusionStrength()],
          ["emissive", m.getEmissiveTexture(), m.getEmissiveTextureInfo(), 1],
        ] as const
      ).flatMap(([slot, texture, info, strength]): MaterialMap[] => {
        // the first texture coordinates are the ones that are kept
        const image = info?.getTexCoord() ? null : read(texture);
        return image ? [{ ...image, slot, strength }] : [];
      });
      const emissive = m.getEmissiveFactor();
      return {
        name: cleanName(m.getName()) || "material",
        baseColor: m.getBaseColorFactor(),
        roughness: m.getRoughnessFactor(),
        metallic: m.getMetallicFactor(),
        opacity: m.getAlphaMode() === "BLEND" ? "blend" : m.getAlphaMode() === "MASK" ? "mask" : "opaque",
        alphaCutoff: m.getAlphaCutoff(),
        doubleSided: m.getDoubleSided(),
        texture: read(m.getBaseColorTexture()),
        ...(maps.length ? { maps } : {}),
        ...(emissive.some((x) => x > 0) ? { emissive } : {}),
      };
    });
}
