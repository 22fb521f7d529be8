import { splitWords } from "./nameWords";

/** What an image is for, as files of textures come; `null` stands for one that a glTF material has no place for. */
export const TEXTURE_USES = [
  "base colour",
  "normal",
  "normal, green down",
  "roughness",
  "gloss",
  "metalness",
  "occlusion",
  "occlusion, roughness, metalness",
  "emissive",
  "opacity",
] as const;
export type TextureUse = (typeof TEXTURE_USES)[number];

/** A texture's file name, read. */
export interface TextureName {
  readonly use: TextureUse | null;
  /** What it is where no place is for it, or "" where no word says what it is. */
  readonly other: string;
  /** Words that may name a material or part, in lower case. */
  readonly rest: readonly string[];
  /** Number of the tile of a surface that is spread over several images (1001 and up), else null. */
  readonly tile: number | null;
}

/** Words of each use. Common practice in texture names of many programs, no source. */
const WORDS: readonly (readonly [TextureUse, readonly string[]])[] = [
  [
    "base colour",
    ["basecolor", "basecolour", "albedo", "diffuse", "diff", "dif", "color", "colour", "col", "bc", "alb", "base"],
  ],
  ["normal", ["normal", "normals", "normalmap", "nrm", "nor", "norm", "nml"]],
  ["roughness", ["roughness", "rough", "rgh"]],
  ["gloss", ["gloss", "glossiness", "glossy", "gls", "smoothness", "smooth"]],
  ["metalness", ["metalness", "metallic", "metal", "mtl", "met"]],
  ["occlusion", ["occlusion", "ao", "occ", "ambientocclusion"]],
  ["occlusion, roughness, metalness", ["orm", "arm", "occlusionroughnessmetallic", "metallicroughness"]],
  ["emissive", ["emissive", "emission", "emit", "glow", "illum", "incandescence"]],
  ["opacity", ["opacity", "alpha", "transparency", "transparent", "cutout", "mask", "opac"]],
];
/** Letters that stand for a use at the very end of a name. */
const LETTERS: Readonly<Record<string, TextureUse>> = {
  d: "base colour",
  c: "base colour",
  n: "normal",
  r: "roughness",
  m: "metalness",
  e: "emissive",
  o: "occlusion",
};
const NO_PLACE: Readonly<Record<string, string>> = {
  height: "height",
  displacement: "height",
  disp: "height",
  displace: "height",
  bump: "height",
  specular: "specular",
  spec: "specular",
  cavity: "cavity",
  curvature: "curvature",
  thickness: "thickness",
  sss: "scattering",
  subsurface: "scattering",
  scatter: "scattering",
  scattering: "scattering",
};
/** Words that say nothing of what the texture lies on. */
const EMPTY = new Set(
  "t tx tex texture textures map maps mat material sg shader set k px final new srgb linear raw u v ambient".split(" "),
);
const GREEN_DOWN = new Set(["dx", "directx", "d3d"]);
const GREEN_UP = new Set(["gl", "ogl", "opengl"]);
/** Tiles count from 1001; 1024 is taken for a size in pixels. */
const isTile = (word: string): boolean => /^10[0-9]{2}$/.test(word) && word !== "1000" && word !== "1024";

/** Uses that words speak of, each with the words that said it. */
function usesIn(words: readonly string[]): { use: TextureUse; said: Set<string> } | null {
  const found = new Map<TextureUse, string[]>();
  for (const [use, list] of WORDS) {
    const said = words.filter((w) => list.includes(w));
    if (said.length) found.set(use, said);
  }
  // "base_roughness" is a roughness: "base" alone says little, and "mask" and "smooth" less than any other word
  for (const [use, weak] of [
    ["base colour", "base"],
    ["opacity", "mask"],
    ["gloss", "smooth"],
  ] as const)
    if (found.size > 1 && found.get(use)?.every((w) => w === weak)) found.delete(use);
  const packed = "occlusion, roughness, metalness";
  const together = found.has("roughness") && found.has("metalness");
  if (together || found.has(packed)) return { use: packed, said: new Set([...found.values()].flat()) };
  const [first] = found;
  return first ? { use: first[0], said: new Set(first[1]) } : null;
}

/**
 * Reads what a texture is for and what it lies on from the words of its file name, in any order and spelling
 * (`T_Hair_BC`, `oda-lash-opacity.png`, `Shirt_Normal_DirectX_2K`).
 */
export function readTextureName(file: string): TextureName {
  const stem = file
    .replace(/^.*[\\/]/, "")
    .replace(/\.[^.]*$/, "")
    .replace(/direct ?x/i, " dx ")
    .replace(/open ?gl/i, " gl ");
  const words = splitWords(stem);
  const tile = words.find(isTile);
  const plain = words.filter((w) => !/^\d+$/.test(w));
  const glued = plain.flatMap((w, i) => [w, `${w}${plain[i + 1] ?? ""}`]);
  const found = usesIn(glued);
  const said = new Set(
    [...(found?.said ?? [])].flatMap((w) => (plain.includes(w) ? [w] : plain.filter((p) => p !== "" && w.includes(p)))),
  );
  const last = plain.at(-1) ?? "";
  const letter = !found && plain.length > 1 ? LETTERS[last] : undefined;
  const noPlace = found ? undefined : plain.find((w) => NO_PLACE[w]);
  const use = found?.use ?? (noPlace ? null : (letter ?? null));
  const down = use === "normal" && plain.some((w) => GREEN_DOWN.has(w));
  return {
    use: down ? "normal, green down" : use,
    other: noPlace ? NO_PLACE[noPlace]! : "",
    rest: plain.filter(
      (w, i) =>
        !said.has(w) &&
        w !== noPlace &&
        !(letter && i === plain.length - 1) &&
        !EMPTY.has(w) &&
        !(use?.startsWith("normal") && (GREEN_DOWN.has(w) || GREEN_UP.has(w))),
    ),
    tile: tile ? Number(tile) : null,
  };
}
