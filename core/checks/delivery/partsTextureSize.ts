import { imageSize } from "../../formats/imageSize";
import { finding, type Check } from "../finding";

/** Longest side of each texture against the profile. */
export const partsTextureSize: Check = {
  id: "parts.texture-size",
  title: "Texture size",
  unit: "pixels",
  source: "our own choice: realtime 4096, crowd 2048",
  run: (character, { profile }) => {
    const limit = profile.limits["parts.texture-size"];
    if (limit === null) return [];
    return character.materials.flatMap((material, m) => {
      const size = material.texture && imageSize(material.texture.bytes);
      const longest = size ? Math.max(size.width, size.height) : 0;
      if (!size || longest <= limit) return [];
      const part = character.parts.find((p) => p.groups.some((g) => g.material === m));
      return [finding({ check: "parts.texture-size", severity: "warn", part: part?.name ?? null, value: longest, unit: "pixels", limit, message: `The texture of ${material.name} is ${size.width} x ${size.height} pixels; ${profile.name} allows ${limit} on the longer side.` })];
    });
  },
};
