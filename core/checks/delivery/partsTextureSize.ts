import { shrinkTextures } from "../../edits/textures/shrinkTextures";
import { amount, check } from "../check";
import { imageSize } from "../../formats/imageSize";
import { textureSide } from "../../edits/textures/shrinkTextures";
import { finding } from "../finding";

/** Longest side of each texture against the profile. */
export const partsTextureSize = check({
  id: "parts.texture-size",
  title: "Texture size",
  station: "intake",
  unit: "pixels",
  measures: "longer side of a texture, from the PNG or JPEG header; one click averages it down",
  severity: "warn",
  limits: { "parts.texture-size": amount({ film: null, realtime: 4096, crowd: 2048 }) },
  source: "our own choice: realtime 4096, crowd 2048",
  mend: {
    says: (f) =>
      `Brings the textures of ${f.part} down to ${f.limit} pixels ` +
      "on the longer side, averaged by area in linear light.",
    apply: (c, f, tell) => shrinkTextures(c, f.limit!, f.part, tell),
  },
  run: (character, { limits, profileName }) => {
    const limit = limits["parts.texture-size"];
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
            `pixels; ${profileName} allows ${limit} on the longer side.`,
        }),
      ];
    });
  },
});
