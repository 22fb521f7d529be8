import type { Material, MaterialMap } from "~core/model/character";
import type { Rig } from "~core/deform/rig";
import { withCopies } from "~core/model/drawnPart";
import { cornerRuns, FAINT, FRINGE_AFTER, hasFringe, isCovered, LEAST_ROUGH, orderOf, SOLID } from "../../lookRules";
import type { Run } from "./coverTriangles";
import type { PixelImage } from "./pixelImage";

/** Images of a material by use; null for what it has not. */
export interface SurfaceMaps {
  readonly base: PixelImage | null;
  readonly normal: PixelImage | null;
  readonly occlusion: PixelImage | null;
  readonly emissive: PixelImage | null;
  /** Roughness in green, metalness in blue, as in glTF. */
  readonly roughMetal: PixelImage | null;
}

/** The faces of a part that share one material, as they are drawn in one pass. */
export interface Surface extends SurfaceMaps, Run {
  readonly part: number;
  /** Lowest first. */
  readonly order: number;
  /**
   * Hiding what lies behind: every pixel, or where the opacity is at least `least`. What does not hide is laid over
   * what was drawn, where its opacity is at least that.
   */
  readonly hides: boolean;
  readonly least: number;
  /** Linear RGB. */
  readonly color: readonly [number, number, number];
  readonly opacity: number;
  readonly roughness: number;
  readonly metalness: number;
  readonly glow: readonly [number, number, number];
  readonly bumps: number;
  readonly shade: number;
  /** 2 for each drawn vertex; null without textures. */
  readonly uvs: Float32Array | null;
  /** Linear RGB laid over it, 3 for each drawn vertex; null for white. */
  readonly tint: Float32Array | null;
}

/** Decodes an image, or says null to one that cannot be read. */
export type Decode = (image: { readonly bytes: Uint8Array; readonly mimeType: string }) => Promise<PixelImage | null>;

async function mapsOf({ texture, maps = [] }: Material, decode: Decode): Promise<SurfaceMaps> {
  const of = (slot: MaterialMap["slot"]): Promise<PixelImage | null> | null => {
    const map = maps.find((m) => m.slot === slot);
    return map ? decode(map) : null;
  };
  const [base, normal, occlusion, emissive, roughMetal] = await Promise.all([
    texture && decode(texture),
    of("normal"),
    of("occlusion"),
    of("emissive"),
    of("metallic roughness"),
  ]);
  return { base, normal, occlusion, emissive, roughMetal };
}

const NO_MAPS: SurfaceMaps = { base: null, normal: null, occlusion: null, emissive: null, roughMetal: null };

/** RGB of a part's own vertices, for each drawn one. */
function tintOf({ character, drawn }: Rig, p: number): Float32Array | null {
  const { colors } = character.parts[p]!;
  if (!colors) return null;
  const rows = Float32Array.from(
    { length: (3 * colors.length) / 4 },
    (_, i) => colors[4 * Math.floor(i / 3) + (i % 3)]!,
  );
  const { copies } = drawn[p]!;
  const out = new Float32Array(rows.length + 3 * copies.length);
  withCopies(rows, copies, 3, out);
  return out;
}

/** Everything of a dressed character that is drawn in its natural look, in the order in which it is drawn. */
export async function surfacesOf(rig: Rig, decode: Decode): Promise<Surface[]> {
  const { character } = rig;
  const isDrawn = (material: number): boolean =>
    !isCovered(character.materials[material]!.name, character, true) &&
    character.parts.some((part, p) => rig.drawn[p]!.uvs && part.groups.some((g) => g.material === material));
  const decoded = await Promise.all(character.materials.map((m, i) => (isDrawn(i) ? mapsOf(m, decode) : NO_MAPS)));
  const all = character.parts.flatMap((part, p): Surface[] => {
    const { triangles, uvs } = rig.drawn[p]!;
    const tint = tintOf(rig, p);
    return cornerRuns(part).flatMap(({ start, count }, g): Surface[] => {
      const { material } = part.groups[g]!;
      const of = character.materials[material]!;
      if (count === 0 || isCovered(of.name, character, true)) return [];
      const maps = uvs ? decoded[material]! : NO_MAPS;
      const plain = plainSurface(of, maps);
      const run = { part: p, triangles, start, end: start + count, uvs, tint };
      const order = orderOf(part);
      const fringed = hasFringe(of) && maps.base !== null;
      const hides = of.baseColor[3] === 1;
      const whole: Surface = { ...plain, ...run, order, hides, least: leastOf(of, fringed) };
      return fringed ? [whole, { ...whole, order: order + FRINGE_AFTER, hides: false, least: FAINT }] : [whole];
    });
  });
  return all.sort((a, b) => Number(b.hides) - Number(a.hides) || a.order - b.order);
}

/** The opacity from which a surface shows. */
function leastOf(of: Material, fringed: boolean): number {
  if (of.opacity === "mask") return of.alphaCutoff;
  return fringed ? SOLID : 0;
}

function plainSurface(of: Material, maps: SurfaceMaps) {
  const strength = (slot: MaterialMap["slot"]): number => of.maps?.find((m) => m.slot === slot)?.strength ?? 1;
  const [r, g, b, opacity] = of.baseColor;
  return {
    ...maps,
    doubleSided: of.doubleSided,
    color: [r, g, b] as const,
    opacity,
    roughness: maps.roughMetal ? of.roughness : Math.max(LEAST_ROUGH, of.roughness),
    metalness: of.metallic,
    glow: of.emissive ?? ([0, 0, 0] as const),
    bumps: strength("normal"),
    shade: strength("occlusion"),
  };
}
