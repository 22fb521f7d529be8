import { DEFAULT_MATERIAL, triangulate, type Character } from "../model/character";
import { drawnPart, withCopies } from "../model/drawnPart";
import { imagesOf } from "../model/materialLook";
import { placesOf } from "../model/places";
import { smoothPlaces } from "../model/smoothPlaces";
import { computeNormals, normalFacesOf, type NormalFaces } from "./computeNormals";
import { evaluate } from "../evaluate/evaluate";
import type { Moment, SkinMethod } from "../evaluate/moment";
import { offsetBinds } from "../evaluate/offsetSkeleton";
import { skinMatrices } from "../evaluate/poseSkeleton";
import { skinDual } from "./skinDual";
import { skinLinear } from "./skinLinear";

/** What a shape moves of one part. */
export interface PartShape {
  readonly shape: number;
  readonly vertices: Uint32Array;
  readonly deltas: Float32Array;
}

/**
 * Faces of a part as they are shown, hard edges kept: vertices with several normals have copies behind all vertices.
 * Those of the part where nothing is hard.
 */
export interface DrawnFaces {
  /** The vertex behind each copy. */
  readonly copies: Uint32Array;
  readonly triangles: Uint32Array;
  readonly placeOf: Uint32Array | null;
  readonly faces: NormalFaces;
  /** 2 for each drawn vertex where a texture is shown, else null. */
  readonly uvs: Float32Array | null;
}

/** A character with the tables that make deforming it fast; built once, used for every moment. */
export interface Rig {
  readonly character: Character;
  readonly triangles: readonly Uint32Array[];
  readonly faceOfTriangle: readonly Uint32Array[];
  /** Per part: lowest vertex at the same place, or null when no two vertices share one. */
  readonly placeOf: readonly (Uint32Array | null)[];
  readonly normalFaces: readonly NormalFaces[];
  /** How parts are shown. */
  readonly drawn: readonly DrawnFaces[];
  readonly partShapes: readonly (readonly PartShape[])[];
}

export function makeRig(character: Character): Rig {
  const triangulated = character.parts.map(triangulate);
  const placeOf = character.parts.map((part) => {
    const places = placesOf(part.positions);
    return places.some((p, v) => p !== v) ? places : null;
  });
  const normalFaces = character.parts.map((part, p) => normalFacesOf(part, placeOf[p]!));
  return {
    character,
    drawn: character.parts.map((whole, p): DrawnFaces => {
      // seams part what is drawn only where a texture is seen
      const textured = whole.groups.some(
        (g) => imagesOf(character.materials[g.material] ?? DEFAULT_MATERIAL).length > 0,
      );
      const { part, copies } = drawnPart(whole, textured ? "all" : "normals");
      const triangles = copies.length ? triangulate(part).triangles : triangulated[p]!.triangles;
      const uvs = textured ? part.uvs : null;
      if (!part.smooth && !copies.length)
        return { copies, triangles, placeOf: placeOf[p]!, faces: normalFaces[p]!, uvs };
      const places = smoothPlaces(part);
      return { copies, triangles, placeOf: places, faces: normalFacesOf(part, places), uvs };
    }),
    triangles: triangulated.map((t) => t.triangles),
    faceOfTriangle: triangulated.map((t) => t.faceOfTriangle),
    placeOf,
    normalFaces,
    partShapes: partShapesOf(character),
  };
}

const partShapesOf = (character: Character): PartShape[][] => {
  const out: PartShape[][] = character.parts.map(() => []);
  character.shapes.forEach((shape, s) =>
    shape.deltas.forEach((d) => out[d.part]!.push({ shape: s, vertices: d.vertices, deltas: d.deltas })),
  );
  return out;
};

/** The same rig with other shapes and drivers; parts and skeleton must be unchanged. */
export const withShapes = (rig: Rig, character: Character): Rig => ({
  ...rig,
  character,
  partShapes: partShapesOf(character),
});

export interface Deformed {
  /** Per part, 3 x vertexCount, metres, character space. */
  readonly positions: Float32Array[];
  /**
   * Per part what is drawn: the positions themselves, or where vertices are drawn as several a longer array with the
   * copies behind them.
   */
  readonly drawn: Float32Array[];
  /** Unit length, one for each drawn vertex. */
  readonly normals: Float32Array[];
  /** Per part with a skin: 16 x jointCount. */
  readonly matrices: (Float64Array | null)[];
  shapeWeights: Float32Array;
}

/** Adds the weighted shapes of one part to its bind positions. */
export function blendShapes(rig: Rig, part: number, weights: Float32Array, out: Float32Array): void {
  out.set(rig.character.parts[part]!.positions);
  for (const { shape, vertices, deltas } of rig.partShapes[part]!) {
    const w = weights[shape]!;
    if (w === 0) continue;
    for (let k = 0, i = 0; k < vertices.length; k++, i += 3) {
      const o = 3 * vertices[k]!;
      out[o]! += w * deltas[i]!;
      out[o + 1]! += w * deltas[i + 1]!;
      out[o + 2]! += w * deltas[i + 2]!;
    }
  }
}

export function allocateDeformed(rig: Rig): Deformed {
  const positions = rig.character.parts.map((p) => new Float32Array(p.positions.length));
  const drawn = rig.drawn.map(({ copies }, p) =>
    copies.length ? new Float32Array(positions[p]!.length + 3 * copies.length) : positions[p]!,
  );
  return {
    positions,
    drawn,
    normals: drawn.map((d) => new Float32Array(d.length)),
    matrices: rig.character.parts.map(() => null),
    shapeWeights: new Float32Array(rig.character.shapes.length),
  };
}

/** Skinning matrices of one part; parts that share the skeleton's bind share the array in `shared`. */
export function partMatrices(
  rig: Rig,
  part: number,
  world: Float64Array,
  shared: { matrices: Float64Array | null; offsets?: Float64Array | null },
  skeleton = rig.character.skeleton,
): Float64Array | null {
  const { skin } = rig.character.parts[part]!;
  if (!skin || !skeleton) return null;
  if (skin.inverseBinds)
    return skinMatrices(world, shared.offsets ? offsetBinds(skin.inverseBinds, shared.offsets) : skin.inverseBinds);
  shared.matrices ??= skinMatrices(world, skeleton.inverseBinds);
  return shared.matrices;
}

export interface DeformOptions {
  readonly normals?: boolean;
  readonly out?: Deformed;
  /** Only these parts; the others keep what `out` holds. */
  readonly parts?: readonly number[];
}

/** Shapes, then skinning, then normals, of every part at one moment. Pass `out` to reuse its arrays. */
export function deform(rig: Rig, moment: Moment, options: DeformOptions = {}): Deformed {
  const { character } = rig;
  const out = options.out ?? allocateDeformed(rig);
  const { weights, offsets, skeleton, world } = evaluate(character, moment);
  out.shapeWeights = weights;
  const shared = { matrices: null, offsets };
  for (const p of options.parts ?? character.parts.keys()) {
    out.matrices[p] = world && partMatrices(rig, p, world, shared, skeleton);
    deformPart(rig, p, weights, moment.method, out);
    if (options.normals !== false) renewDrawn(rig, p, out);
  }
  return out;
}

/** Positions of one part from shape weights and the matrices that `out` holds of it. */
export function deformPart(rig: Rig, part: number, weights: Float32Array, method: SkinMethod, out: Deformed): void {
  const positions = out.positions[part]!;
  const matrices = out.matrices[part];
  blendShapes(rig, part, weights, positions);
  const { skin } = rig.character.parts[part]!;
  if (skin && matrices) (method === "dual" ? skinDual : skinLinear)(positions, skin, matrices, positions);
}

/** What is drawn of one part, from its positions: copies and normals. */
export function renewDrawn(rig: Rig, part: number, out: Deformed): void {
  const { copies, faces, placeOf } = rig.drawn[part]!;
  if (copies.length) withCopies(out.positions[part]!, copies, 3, out.drawn[part]!);
  computeNormals(out.drawn[part]!, faces, placeOf, out.normals[part]!);
}
