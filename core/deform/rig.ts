import { triangulate, type Character } from "../model/character";
import { placesOf } from "../model/places";
import { smoothPlaces } from "../model/smoothPlaces";
import { computeNormals, normalFacesOf, type NormalFaces } from "./computeNormals";
import { shapeWeights } from "./driverWeight";
import { jointOffsets, offsetBinds, offsetSkeleton } from "./offsetSkeleton";
import { REST_POSE, skinMatrices, worldMatrices, type Pose } from "./poseSkeleton";
import { skinDual } from "./skinDual";
import { skinLinear } from "./skinLinear";

export type SkinMethod = "linear" | "dual";

/** Everything that says how a character stands and looks at one moment. */
export interface Moment {
  readonly pose: Pose;
  readonly weights: Readonly<Record<string, number>>;
  readonly drivers: boolean;
  readonly method: SkinMethod;
}
export const REST_MOMENT: Moment = { pose: REST_POSE, weights: {}, drivers: true, method: "linear" };

interface PartShape {
  readonly shape: number;
  readonly vertices: Uint32Array;
  readonly deltas: Float32Array;
}

/** A character with the tables that make deforming it fast; built once, used for every moment. */
export interface Rig {
  readonly character: Character;
  readonly triangles: readonly Uint32Array[];
  readonly faceOfTriangle: readonly Uint32Array[];
  /** Per part: lowest vertex at the same place, or null when no two vertices share one. */
  readonly placeOf: readonly (Uint32Array | null)[];
  readonly normalFaces: readonly NormalFaces[];
  /** The same two for the normals that are shown and written, with hard edges kept; those above where there are none. */
  readonly drawn: readonly { readonly placeOf: Uint32Array | null; readonly faces: NormalFaces }[];
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
    drawn: character.parts.map((part, p) => {
      if (!part.smooth) return { placeOf: placeOf[p]!, faces: normalFaces[p]! };
      const places = smoothPlaces(part);
      return { placeOf: places, faces: normalFacesOf(part, places) };
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
  character.shapes.forEach((shape, s) => shape.deltas.forEach((d) => out[d.part]!.push({ shape: s, vertices: d.vertices, deltas: d.deltas })));
  return out;
};

/** The same rig with other shapes and drivers; parts and skeleton must be unchanged. */
export const withShapes = (rig: Rig, character: Character): Rig => ({ ...rig, character, partShapes: partShapesOf(character) });

export interface Deformed {
  /** Per part, 3 x vertexCount, metres, character space. */
  readonly positions: Float32Array[];
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
  return {
    positions: rig.character.parts.map((p) => new Float32Array(p.positions.length)),
    normals: rig.character.parts.map((p) => new Float32Array(p.positions.length)),
    matrices: rig.character.parts.map(() => null),
    shapeWeights: new Float32Array(rig.character.shapes.length),
  };
}

/** Skinning matrices of one part; parts that share the skeleton's bind share the array in `shared`. */
export function partMatrices(rig: Rig, part: number, world: Float64Array, shared: { matrices: Float64Array | null; offsets?: Float64Array | null }, skeleton = rig.character.skeleton): Float64Array | null {
  const { skin } = rig.character.parts[part]!;
  if (!skin || !skeleton) return null;
  if (skin.inverseBinds) return skinMatrices(world, shared.offsets ? offsetBinds(skin.inverseBinds, shared.offsets) : skin.inverseBinds);
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
  const weights = shapeWeights(character, moment.pose, moment.weights, moment.drivers);
  out.shapeWeights = weights;
  const offsets = jointOffsets(character, weights);
  const skeleton = character.skeleton && offsets ? offsetSkeleton(character.skeleton, offsets) : character.skeleton;
  const world = skeleton ? worldMatrices(skeleton, moment.pose) : null;
  const shared = { matrices: null, offsets };
  for (const p of options.parts ?? character.parts.keys()) {
    const positions = out.positions[p]!;
    blendShapes(rig, p, weights, positions);
    const matrices = world && partMatrices(rig, p, world, shared, skeleton);
    out.matrices[p] = matrices;
    const skin = character.parts[p]!.skin;
    if (skin && matrices) (moment.method === "dual" ? skinDual : skinLinear)(positions, skin, matrices, positions);
    if (options.normals !== false) computeNormals(positions, rig.drawn[p]!.faces, rig.drawn[p]!.placeOf, out.normals[p]!);
  }
  return out;
}
