import { toLinear, toSrgb } from "../../math/srgb";
import {
  DEFAULT_MATERIAL,
  type Character,
  type Material,
  type MaterialMap,
  type TextureImage,
} from "../../model/character";
import { uniqueName } from "../../model/uniqueName";
import { shortName, UserError } from "../../model/userError";
import { decodeText } from "../decodeText";
import { imageSize, isPng } from "../imageSize";

/** A file that came beside an OBJ. */
export interface Companion {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** Materials of an OBJ by name, and what could not be had of them. */
export interface MaterialLibrary {
  readonly materials: ReadonlyMap<string, Material>;
  readonly notes: readonly string[];
}

const baseName = (file: string): string => file.replace(/^.*[\\/]/, "").toLowerCase();

/** Statements of one material: the words behind each keyword, in lower case. */
interface Statements {
  readonly name: string;
  readonly words: Map<string, string[]>;
}

/** Names of the texture files a library asks for. @throws UserError when the text is broken. */
export const texturesOf = (bytes: Uint8Array, file: string): string[] =>
  statementsOf(bytes, file).flatMap((m) =>
    [...m.words].flatMap(([key, words]) => (isMap(key) ? [imageName(words)] : [])),
  );

const isMap = (key: string): boolean => /^(map_|bump$|norm$)/.test(key);

function statementsOf(bytes: Uint8Array, file: string): Statements[] {
  const out: Statements[] = [];
  decodeText(bytes)
    .split(/\r\n|\n|\r/)
    .forEach((line, i) => {
      const words = line.replace(/#.*/, "").trim().split(/\s+/);
      const key = (words[0] ?? "").toLowerCase();
      if (!key) return;
      if (key === "newmtl") out.push({ name: words.slice(1).join(" "), words: new Map() });
      else if (!out.length)
        throw new UserError(
          `"${line.trim().slice(0, 40)}" stands before any material.`,
          `${shortName(file)}, line ${i + 1}`,
          "Send the library as it was exported, or the OBJ without it.",
        );
      else out[out.length - 1]!.words.set(key, words.slice(1));
    });
  return out;
}

/** The file behind the options of a map (-s 1 1 1, -bm 0.5 ...): its name may hold spaces. */
function imageName(words: readonly string[]): string {
  let at = 0;
  while (words[at]?.startsWith("-")) {
    at++;
    const first = at;
    while (at < words.length - 1 && (at === first || (at - first < 3 && Number.isFinite(Number(words[at]))))) at++;
  }
  return words.slice(at).join(" ");
}

/**
 * Reads material libraries (Wavefront MTL: Kd, d or Tr, Ns, map_Kd, and its common additions Pr, Pm, Ke, norm, map_Ke).
 * Colours are taken as sRGB. Roughness is Pr, or follows from the exponent Ns as sqrt(2 / (Ns + 2)) (Walter et al.
 * 2007, "Microfacet Models for Refraction").
 * @param wanted library names in the OBJ. @param beside files that came with it: libraries and images.
 */
export function readLibraries(wanted: readonly string[], beside: readonly Companion[]): MaterialLibrary {
  const materials = new Map<string, Material>();
  const notes: string[] = [];
  const fileOf = (name: string): Companion | undefined => beside.find((f) => baseName(f.name) === baseName(name));
  const imageOf = (words: readonly string[] | undefined): TextureImage | null => {
    if (!words) return null;
    const name = imageName(words);
    const file = fileOf(name);
    if (!file)
      notes.push(`Texture ${shortName(name, 60)} did not come with the OBJ; its material is shown without it.`);
    else if (!imageSize(file.bytes))
      notes.push(`Texture ${shortName(name, 60)} is neither PNG nor JPEG; its material is shown without it.`);
    else
      return {
        name: file.name.replace(/^.*[\\/]/, "").replace(/\.[^.]*$/, ""),
        mimeType: isPng(file.bytes) ? "image/png" : "image/jpeg",
        bytes: file.bytes,
      };
    return null;
  };
  for (const name of wanted) {
    const file = fileOf(name);
    if (!file) {
      notes.push(
        `Material library ${shortName(name, 60)} did not come with the OBJ; materials have their names alone.`,
      );
      continue;
    }
    for (const { name: material, words } of statementsOf(file.bytes, file.name))
      if (!materials.has(material)) materials.set(material, materialOf(material, words, imageOf));
  }
  return { materials, notes: [...new Set(notes)] };
}

function materialOf(
  name: string,
  words: ReadonlyMap<string, string[]>,
  imageOf: (words: readonly string[] | undefined) => TextureImage | null,
): Material {
  const number = (key: string): number | undefined => {
    const x = Number(words.get(key)?.[0] ?? NaN);
    return Number.isFinite(x) ? x : undefined;
  };
  const colour = (key: string): [number, number, number] | null => {
    const rgb = (words.get(key) ?? []).slice(0, 3).map(Number);
    // one value stands for all three
    const all = rgb.length === 1 ? [rgb[0]!, rgb[0]!, rgb[0]!] : rgb;
    return all.length === 3 && all.every(Number.isFinite)
      ? (all.map((c) => toLinear(Math.min(1, Math.max(0, c)))) as [number, number, number])
      : null;
  };
  const share = (x: number): number => Math.min(1, Math.max(0, x));
  const alpha = share(number("d") ?? (number("tr") === undefined ? 1 : 1 - number("tr")!));
  const shine = number("ns");
  const texture = imageOf(words.get("map_kd"));
  const normal = imageOf(words.get("norm"));
  const glow = imageOf(words.get("map_ke"));
  const emissive = colour("ke");
  const maps: MaterialMap[] = [
    ...(normal ? [{ ...normal, slot: "normal" as const, strength: 1 }] : []),
    ...(glow ? [{ ...glow, slot: "emissive" as const, strength: 1 }] : []),
  ];
  const [r, g, b] =
    colour("kd") ??
    (texture
      ? [1, 1, 1]
      : [DEFAULT_MATERIAL.baseColor[0], DEFAULT_MATERIAL.baseColor[1], DEFAULT_MATERIAL.baseColor[2]]);
  return {
    ...DEFAULT_MATERIAL,
    name: name || "default",
    baseColor: [r, g, b, alpha],
    texture,
    roughness: share(
      number("pr") ?? (shine === undefined ? DEFAULT_MATERIAL.roughness : Math.sqrt(2 / (Math.max(0, shine) + 2))),
    ),
    metallic: share(number("pm") ?? 0),
    opacity: alpha < 1 ? "blend" : words.has("map_d") ? "mask" : "opaque",
    ...(maps.length ? { maps } : {}),
    ...(emissive?.some((c) => c > 0) ? { emissive } : {}),
  };
}

/**
 * Files of a character's materials to stand beside an OBJ of this name: the library, and each image once, named after
 * it so that nothing there is overwritten by chance. Images that MTL has no word for (roughness packed with metalness,
 * occlusion) are told as left out.
 */
export function writeLibrary(
  character: Character,
  obj: string,
  nameOf: (material: Material) => string,
): { files: { name: string; data: string | Uint8Array }[]; leftOut: string[] } {
  const images = new Map<Uint8Array, string>();
  const taken = new Set<string>();
  const leftOut = new Set<string>();
  const imageFile = ({ name, mimeType, bytes }: TextureImage): string => {
    if (!images.has(bytes))
      images.set(
        bytes,
        `${obj}-${uniqueName(name.replace(/[^\w.-]+/g, "_"), taken, "texture")}.${mimeType === "image/png" ? "png" : "jpg"}`,
      );
    return images.get(bytes)!;
  };
  const rgb = (c: readonly number[]): string =>
    c
      .slice(0, 3)
      .map((x) => Number(toSrgb(x).toFixed(6)))
      .join(" ");
  const lines = [`# ${character.name.replace(/\s+/g, " ")}: ${character.materials.length} materials`];
  for (const m of character.materials) {
    lines.push(
      "",
      `newmtl ${nameOf(m)}`,
      `Kd ${rgb(m.baseColor)}`,
      `d ${m.baseColor[3]}`,
      `Ns ${Number((2 / Math.max(0.001, m.roughness ** 2) - 2).toFixed(4))}`,
      `Pr ${m.roughness}`,
      `Pm ${m.metallic}`,
    );
    if (m.emissive) lines.push(`Ke ${rgb(m.emissive)}`);
    if (m.texture) lines.push(`map_Kd ${imageFile(m.texture)}`);
    if (m.texture && m.opacity === "mask") lines.push(`map_d ${imageFile(m.texture)}`);
    for (const map of m.maps ?? []) {
      if (map.slot === "normal") lines.push(`norm ${imageFile(map)}`);
      else if (map.slot === "emissive") lines.push(`map_Ke ${imageFile(map)}`);
      else leftOut.add(`${map.name} (${map.slot} of ${m.name})`);
    }
  }
  return {
    files: [
      { name: `${obj}.mtl`, data: `${lines.join("\n")}\n` },
      ...[...images].map(([data, name]) => ({ name, data })),
    ],
    leftOut: [...leftOut],
  };
}
