import { isPng } from "../../formats/imageSize";
import { MAP_SLOTS, type Character, type Material } from "../../model/character";
import { untold, type ShareDone } from "../../model/shareDone";
import type { TextureUse } from "../../names/textureWords";
import { readPixels, writePng } from "./shrinkImage";
import type { Pixels } from "./readPng";

/** An image, what it is for and the material it belongs to. */
export interface ChosenTexture {
  readonly file: string;
  readonly bytes: Uint8Array;
  readonly use: TextureUse;
  readonly material: string;
}

export const TEXTURE_SLOTS = ["base colour", ...MAP_SLOTS] as const;

/** A map as a glTF material holds it. */
export interface MadeMap {
  readonly material: string;
  readonly slot: (typeof TEXTURE_SLOTS)[number];
  readonly name: string;
  readonly mimeType: "image/png" | "image/jpeg";
  readonly bytes: Uint8Array;
}

/** What a material is set to beside its maps. Colours linear, 0..1. */
export interface MaterialSettings {
  readonly material: string;
  readonly baseColor?: readonly [number, number, number] | undefined;
  readonly roughness?: number | undefined;
  readonly metallic?: number | undefined;
  readonly emissive?: readonly [number, number, number] | undefined;
  readonly opacity?: Material["opacity"] | undefined;
  readonly alphaCutoff?: number | undefined;
  readonly doubleSided?: boolean | undefined;
}

export interface MadeMaps {
  readonly maps: readonly MadeMap[];
  readonly settings: readonly MaterialSettings[];
}

const stem = (file: string): string => file.replace(/^.*[\\/]/, "").replace(/\.[^.]*$/, "");

/**
 * Makes the maps of glTF 2.0 materials of separate images (glTF 2.0, 3.9.2 and 3.9.3): roughness and metalness go into
 * green and blue of one image, opacity into alpha of the base colour, gloss becomes roughness, a normal map whose green
 * points down is turned. What needs no change stays as it came, byte by byte. Factors become 1 where a map says all;
 * opacity becomes cut off where nearly all of it is full or nothing, else blended.
 * @throws UserError when an image that must be read is broken.
 */
export function makeMaps(character: Character, chosen: readonly ChosenTexture[], tell: ShareDone = untold): MadeMaps {
  const materials = [...new Set(chosen.map((c) => c.material))];
  const out: { maps: MadeMap[]; settings: MaterialSettings[] } = { maps: [], settings: [] };
  materials.forEach((name, i) => {
    const made = mapsOf(
      character.materials.find((m) => m.name === name)!,
      chosen.filter((c) => c.material === name),
    );
    out.maps.push(...made.maps);
    out.settings.push(made.settings);
    tell((i + 1) / materials.length);
  });
  return out;
}

function mapsOf(material: Material, chosen: readonly ChosenTexture[]): { maps: MadeMap[]; settings: MaterialSettings } {
  const of = (use: TextureUse): ChosenTexture | undefined => chosen.find((c) => c.use === use);
  const asIs = (slot: MadeMap["slot"], c: ChosenTexture): MadeMap => ({
    material: material.name,
    slot,
    name: stem(c.file),
    mimeType: isPng(c.bytes) ? "image/png" : "image/jpeg",
    bytes: c.bytes,
  });
  const asPng = (slot: MadeMap["slot"], c: ChosenTexture, pixels: Pixels): MadeMap => ({
    ...asIs(slot, c),
    mimeType: "image/png",
    bytes: writePng(pixels),
  });
  const maps: MadeMap[] = [];
  let settings: MaterialSettings = { material: material.name };
  const [base, opacity] = [of("base colour"), of("opacity")];
  if (base && !opacity) {
    maps.push(asIs("base colour", base));
    settings = { ...settings, baseColor: [1, 1, 1], ...ownOpacity(material, base) };
  }
  if (opacity) {
    const under = base?.bytes ?? material.texture?.bytes;
    const alpha = onlyOne(readPixels(opacity.bytes, opacity.file));
    const pixels = withAlpha(under ? readPixels(under, base?.file ?? "base colour") : null, alpha);
    maps.push(asPng("base colour", base ?? opacity, pixels));
    settings = { ...settings, ...(base ? { baseColor: [1, 1, 1] as const } : {}), opacity: opacityOf(pixels) };
  }
  const normal = of("normal");
  const turned = of("normal, green down");
  if (normal) maps.push(asIs("normal", normal));
  else if (turned) maps.push(asPng("normal", turned, greenUp(readPixels(turned.bytes, turned.file))));
  const packed = of("occlusion, roughness, metalness");
  if (packed) {
    maps.push(asIs("metallic roughness", packed));
    if (holdsOcclusion(packed)) maps.push(asIs("occlusion", packed));
    settings = { ...settings, roughness: 1, metallic: 1 };
  }
  const [rough, gloss, metal] = [of("roughness"), of("gloss"), of("metalness")];
  const surface = rough ?? gloss;
  if (!packed && (surface ?? metal)) {
    const pixels = roughMetal(
      surface ? onlyOne(readPixels(surface.bytes, surface.file), !rough) : null,
      metal ? onlyOne(readPixels(metal.bytes, metal.file)) : null,
    );
    maps.push(asPng("metallic roughness", (surface ?? metal)!, pixels));
    settings = { ...settings, ...(surface ? { roughness: 1 } : {}), ...(metal ? { metallic: 1 } : {}) };
  }
  const occlusion = of("occlusion");
  if (occlusion) {
    maps.splice(0, maps.length, ...maps.filter((m) => m.slot !== "occlusion"));
    maps.push(asIs("occlusion", occlusion));
  }
  const emissive = of("emissive");
  if (emissive) {
    maps.push(asIs("emissive", emissive));
    settings = { ...settings, emissive: [1, 1, 1] };
  }
  return { maps, settings };
}

/** What the alpha of a base colour says, where the material takes no heed of it yet. */
function ownOpacity(material: Material, base: ChosenTexture): Partial<MaterialSettings> {
  if (material.opacity !== "opaque" || !isPng(base.bytes)) return {};
  const pixels = readPixels(base.bytes, base.file);
  return pixels.data.some((x, i) => i % 4 === 3 && x < 255) ? { opacity: opacityOf(pixels) } : {};
}

/** A file whose name speaks of roughness and metalness alone says nothing of occlusion: its red is empty. */
const holdsOcclusion = ({ file, bytes }: ChosenTexture): boolean => {
  const { data } = readPixels(bytes, file);
  for (let i = 0; i < data.length; i += 4) if (data[i]! > 8) return true;
  return false;
};

/** One number a pixel: alpha where it varies, else red. @param turned 255 less the number. */
function onlyOne({ width, height, data }: Pixels, turned = false): Plane {
  let at = 0;
  for (let i = 3; i < data.length && at === 0; i += 4) if (data[i]! < 255) at = 3;
  const values = new Uint8Array(width * height);
  for (let i = 0; i < values.length; i++) values[i] = turned ? 255 - data[4 * i + at]! : data[4 * i + at]!;
  return { width, height, values };
}

interface Plane {
  readonly width: number;
  readonly height: number;
  readonly values: Uint8Array;
}

/** A plane at another size, straight between pixels; the same where the size is. */
function sized({ width, height, values }: Plane, newWidth: number, newHeight: number): Uint8Array {
  if (width === newWidth && height === newHeight) return values;
  const out = new Uint8Array(newWidth * newHeight);
  for (let y = 0; y < newHeight; y++) {
    const fy = Math.min(height - 1, Math.max(0, ((y + 0.5) * height) / newHeight - 0.5));
    const [y0, ty] = [Math.floor(fy), fy % 1];
    const y1 = Math.min(height - 1, y0 + 1);
    for (let x = 0; x < newWidth; x++) {
      const fx = Math.min(width - 1, Math.max(0, ((x + 0.5) * width) / newWidth - 0.5));
      const [x0, tx] = [Math.floor(fx), fx % 1];
      const x1 = Math.min(width - 1, x0 + 1);
      const above = values[y0 * width + x0]! * (1 - tx) + values[y0 * width + x1]! * tx;
      const below = values[y1 * width + x0]! * (1 - tx) + values[y1 * width + x1]! * tx;
      out[y * newWidth + x] = Math.round(above * (1 - ty) + below * ty);
    }
  }
  return out;
}

/** Colours with an opacity of their own; white where there are none. */
function withAlpha(base: Pixels | null, alpha: Plane): Pixels {
  const { width, height } = base ?? alpha;
  const values = sized(alpha, width, height);
  const data = base ? base.data.slice() : new Uint8Array(4 * width * height).fill(255);
  for (let i = 0; i < values.length; i++) data[4 * i + 3] = values[i]!;
  return { width, height, data };
}

function roughMetal(rough: Plane | null, metal: Plane | null): Pixels {
  const width = Math.max(rough?.width ?? 0, metal?.width ?? 0);
  const height = Math.max(rough?.height ?? 0, metal?.height ?? 0);
  const green = rough && sized(rough, width, height);
  const blue = metal && sized(metal, width, height);
  const data = new Uint8Array(4 * width * height).fill(255);
  for (let i = 0; i < width * height; i++) {
    if (green) data[4 * i + 1] = green[i]!;
    if (blue) data[4 * i + 2] = blue[i]!;
  }
  return { width, height, data };
}

const greenUp = ({ width, height, data }: Pixels): Pixels => {
  const out = data.slice();
  for (let i = 1; i < out.length; i += 4) out[i] = 255 - out[i]!;
  return { width, height, data: out };
};

/** Opacity counts as cut off when so much of it is full or nothing; the edges in between are the rest. */
const CUT = 0.9;
const NEAR = 32;

function opacityOf({ data }: Pixels): Material["opacity"] {
  let clear = 0;
  for (let i = 3; i < data.length; i += 4) if (data[i]! < NEAR || data[i]! > 255 - NEAR) clear++;
  return clear >= (CUT * data.length) / 4 ? "mask" : "blend";
}
