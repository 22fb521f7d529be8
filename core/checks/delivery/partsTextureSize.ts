import { imageSize } from "../../formats/imageSize";
import { textureSide } from "../../textures/shrinkTextures";
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
      const longest = textureSide(material);
      if (longest <= limit) return [];
      const { width, height } = imageSize(material.texture!.bytes)!;
      const part = character.parts.find((p) => p.groups.some((g) => g.material === m));
      return [
        finding({
          check: "parts.texture-size",
          severity: "warn",
          part: part?.name ?? null,
          value: longest,
          unit: "pixels",
          limit,
          message:
            `The texture of ${material.name} is ${width} x ${height} ` +
            `pixels; ${profile.name} allows ${limit} on the longer side.`,
        }),
      ];
    });
  },
};
