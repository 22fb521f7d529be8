/**
 * The character: immutable plain data, structure of arrays.
 * Metres, right-handed, +Y up, facing +Z. Matrices are column-major 4x4, quaternions xyzw.
 */

import type { Quat } from "../math/vec3";
import type { TwistJoint } from "./twistJoint";
import { poseDriven } from "./drivenShapes";
import type { Fitting } from "./fitting";
import type { DriverGroup, PoseDriver, SampleSet } from "./poseDriver";

export const PART_KINDS = [
  "body",
  "eye",
  "lash",
  "tear line",
  "teeth",
  "tongue",
  "hair",
  "brow",
  "garment",
  "other",
] as const;
export type PartKind = (typeof PART_KINDS)[number];

/** Colour, textures and opacity of a surface, as in glTF 2.0. */
export interface Material {
  readonly name: string;
  /** Linear RGBA, 0..1. */
  readonly baseColor: readonly [number, number, number, number];
  readonly roughness: number;
  readonly metallic: number;
  readonly opacity: "opaque" | "mask" | "blend";
  readonly alphaCutoff: number;
  readonly doubleSided: boolean;
  readonly texture: TextureImage | null;
  /** Textures beside the base colour's. */
  readonly maps?: readonly MaterialMap[];
  /** Linear RGB that the surface gives off, where it does. */
  readonly emissive?: readonly [number, number, number];
}

export const MAP_SLOTS = ["normal", "metallic roughness", "occlusion", "emissive"] as const;
/**
 * A texture beside the base colour's: what for, and how strongly it counts (normal scale, occlusion strength; 1 for the
 * others).
 */
export interface MaterialMap extends TextureImage {
  readonly slot: (typeof MAP_SLOTS)[number];
  readonly strength: number;
}

export interface TextureImage {
  readonly name: string;
  readonly mimeType: string;
  readonly bytes: Uint8Array;
}

/** A run of faces that share one material. */
export interface FaceGroup {
  readonly material: number;
  /** Group name of an OBJ file, where there was one. */
  readonly name?: string;
  readonly faceStart: number;
  readonly faceCount: number;
}

/** Skin binding: `influenceCount` joint/weight pairs a vertex, heaviest first where this program made them. */
export interface SkinBinding {
  readonly influenceCount: number;
  /** Joint index into `Skeleton.joints`, influenceCount x vertexCount. */
  readonly joints: Uint16Array;
  /** 0..1, influenceCount x vertexCount. */
  readonly weights: Float32Array;
  /** Own inverse bind matrices (16 x jointCount) where a part was bound apart from the skeleton's; else null. */
  readonly inverseBinds: Float32Array | null;
}

/**
 * What one vertex shows more than once, by corner of the part's faces: OBJ files keep normals and texture coordinates
 * so. On the stage and in glTF such a vertex is drawn as several.
 */
export interface CornerLook {
  /**
   * Smoothing group of each corner: corners at one place with the same group share their normal, and 0 shares with no
   * other face. Null: all share.
   */
  readonly groups: Uint32Array | null;
  /** 2 x corners.length; null where each vertex has one coordinate. */
  readonly uvs: Float32Array | null;
}

export interface Part {
  readonly name: string;
  readonly kind: PartKind;
  /** 3 x vertexCount, metres, bind space, file order. */
  readonly positions: Float32Array;
  /** Corner vertex indices of all polygons, face after face. */
  readonly corners: Uint32Array;
  /** Offset into `corners` of each face, faceCount + 1 entries. */
  readonly faceStarts: Uint32Array;
  readonly groups: readonly FaceGroup[];
  /** 2 x vertexCount, or null. */
  readonly uvs: Float32Array | null;
  /** Linear RGBA, 4 x vertexCount, 0..1, or null. */
  readonly colors: Float32Array | null;
  /** Null: the part is not bound and stays where it is. */
  readonly skin: SkinBinding | null;
  /**
   * For each vertex the lowest one at its place that it shares its normal with; left out where all at one place share
   * theirs, so that no edge is hard.
   */
  readonly smooth?: Uint32Array;
  /** Left out where every vertex has one normal and one texture coordinate. */
  readonly cornerLook?: CornerLook;
}

export interface Joint {
  readonly name: string;
  /** Index of the parent joint, or NO_JOINT. */
  readonly parent: number;
  /** Rest transform relative to the parent, metres. */
  readonly translation: readonly [number, number, number];
  readonly rotation: readonly [number, number, number, number];
  readonly scale: readonly [number, number, number];
}

export interface Skeleton {
  /** Parents come before children. */
  readonly joints: readonly Joint[];
  /** 16 x jointCount, character space to joint space at bind. */
  readonly inverseBinds: Float32Array;
  /** Whether a skin of the file lists the joint (others are plain nodes above or between them). */
  readonly inSkin: Uint8Array;
}

/** Sparse movement of one part under a shape, metres, bind space. */
export interface ShapeDelta {
  readonly part: number;
  readonly vertices: Uint32Array;
  /** 3 x vertices.length. */
  readonly deltas: Float32Array;
}

export interface Shape {
  readonly name: string;
  readonly label: string;
  readonly deltas: readonly ShapeDelta[];
  /** For a shape that changes proportions: how far it moves the rest places of joints at full. */
  readonly jointOffsets?: readonly JointOffset[];
}

/** Movement of a joint's rest place, metres, bind space. */
export interface JointOffset {
  readonly joint: string;
  readonly offset: readonly [number, number, number];
}

export type Easing = "linear" | "smooth" | "slow start" | "slow end";

/** Sets a shape's weight from a joint's turn about one axis of its own frame. */
export interface Driver {
  readonly shape: string;
  readonly joint: string;
  /** Unit vector in the joint's own frame. */
  readonly axis: readonly [number, number, number];
  readonly fromDegrees: number;
  readonly toDegrees: number;
  readonly easing: Easing;
  readonly intensity: number;
  readonly enabled: boolean;
  /** Skinning that the shape was sculpted under; absent where that is not known. */
  readonly method?: "linear" | "dual" | undefined;
  /** Absent: a corrective. */
  readonly group?: DriverGroup | undefined;
}

export const SHAPE_RULES = ["product", "minimum", "beyond one", "in-between"] as const;
export type ShapeRule = (typeof SHAPE_RULES)[number];

/**
 * Sets a shape's weight from the weights of other shapes at the same moment: a combination of several (product,
 * minimum, or how far their sum goes beyond one), or an in-between of one, which is at full where the other stands at
 * `peak` and gone at `from` and `to`.
 */
export interface ShapeDriver {
  readonly shape: string;
  readonly of: readonly string[];
  readonly rule: ShapeRule;
  /** For an in-between: weights of the other shape, from < peak < to. */
  readonly span?: { readonly from: number; readonly peak: number; readonly to: number };
  readonly enabled: boolean;
}

/**
 * An expression as a weighted set of shapes, played as one: the parts stay shapes of their own.
 * `blocks` says what another system should hold still while it plays (overrides of VRM 1.0).
 */
export interface Mix {
  readonly name: string;
  readonly shares: readonly { readonly shape: string; readonly weight: number }[];
  readonly blocks?: readonly MixBlock[];
}
export const MIX_BLOCKS = ["blink", "gaze", "mouth"] as const;
export type MixBlock = (typeof MIX_BLOCKS)[number];

export interface ClipTrack {
  readonly joint: string;
  readonly path: "translation" | "rotation" | "scale";
  readonly interpolation: "LINEAR" | "STEP" | "CUBICSPLINE";
  readonly times: Float32Array;
  readonly values: Float32Array;
}
export interface Clip {
  readonly name: string;
  readonly tracks: readonly ClipTrack[];
  /** Where it is fitted to the figure by hand: how, and tracks and weights as they were before. */
  readonly fit?: {
    readonly fitting: Fitting;
    readonly tracks: readonly ClipTrack[];
    readonly weights?: readonly WeightTrack[];
  };
  /** Weights of shapes that it plays, keys in time. */
  readonly weights?: readonly WeightTrack[];
}

/** Weights of one shape over time, straight or stepped between keys. */
export interface WeightTrack {
  readonly shape: string;
  readonly interpolation: "LINEAR" | "STEP";
  readonly times: Float32Array;
  readonly values: Float32Array;
}

/** A clip with its tracks changed, those before its fitting too. */
export const withTracks = (clip: Clip, change: (tracks: readonly ClipTrack[]) => readonly ClipTrack[]): Clip => ({
  ...clip,
  tracks: change(clip.tracks),
  ...(clip.fit ? { fit: { ...clip.fit, tracks: change(clip.fit.tracks) } } : {}),
});

export type Json = string | number | boolean | null | readonly Json[] | { readonly [key: string]: Json };

/** What a VRM 1.0 says beyond bones and mixes, carried along unread: nodes stand by the names of joints and parts. */
export interface VrmKept {
  /** Name, authors, licence and permissions. */
  readonly meta?: { readonly [key: string]: Json };
  readonly lookAt?: { readonly [key: string]: Json };
  /** Mesh annotations, `node` being a part's name. */
  readonly firstPerson?: readonly { readonly [key: string]: Json }[];
  /** Of expressions by name, what mixes do not hold. */
  readonly expressions?: { readonly [name: string]: { readonly [key: string]: Json } };
  /** Node constraints by joint. */
  readonly constraints?: { readonly [joint: string]: Json };
  readonly springs?: { readonly [key: string]: Json };
}

export interface Character {
  readonly name: string;
  readonly parts: readonly Part[];
  readonly materials: readonly Material[];
  readonly skeleton: Skeleton | null;
  readonly shapes: readonly Shape[];
  readonly drivers: readonly Driver[];
  /** Combinations and in-betweens; a driver may read shapes that drivers before it set. */
  readonly shapeDrivers: readonly ShapeDriver[];
  /** What is set by several readings of a pose together, by a direction or by a curve; none where left out. */
  readonly poseDrivers?: readonly PoseDriver[];
  /** Sampled poses with their shapes; none where left out. */
  readonly sampleSets?: readonly SampleSet[];
  /** Joints that share the twist of others; none where left out. */
  readonly twistJoints?: readonly TwistJoint[];
  /** Expressions made of several shapes; none where left out. */
  readonly mixes?: readonly Mix[];
  /** Shapes that the base holds already, by the weight they were baked at, and that were kept all the same. */
  readonly baked?: readonly { readonly shape: string; readonly weight: number }[];
  /** Shapes left out by the choice of shapes; they take no part in anything until they are chosen again. */
  readonly setAside?: readonly Shape[];
  /** The rules by which shapes were chosen last. */
  readonly shapeChoice?: {
    readonly rules: readonly {
      readonly keep: boolean;
      readonly by: "word" | "wildcard" | "region";
      readonly text: string;
    }[];
    readonly favourites: readonly string[];
  };
  /**
   * Parts that follow the skin in every shape, also in those that are made or changed later; farther than the reach,
   * mm, a vertex does not.
   */
  readonly follows?: readonly { readonly part: string; readonly reachMm: number }[];
  /**
   * The pose in which clips of other skeletons are taken for their rest: by joint, its turn in space away from rest, a
   * unit quaternion. Absent: the rest pose itself.
   */
  readonly retargetPose?: Readonly<Record<string, Quat>>;
  /** From the VRM it came as, written back into a VRM. */
  readonly vrm?: VrmKept;
  readonly clips: readonly Clip[];
  /** Joint name -> VRM 1.0 humanoid bone, corrections made by hand. Null takes a joint out of the map. */
  readonly jointMap: Readonly<Record<string, string | null>>;
  /** Things the reader had to set right or leave out, as sentences. */
  readonly notes: readonly string[];
}

export const NO_JOINT = -1;

export const vertexCountOf = (part: Part): number => part.positions.length / 3;
export const faceCountOf = (part: Part): number => part.faceStarts.length - 1;
export const triangleCountOf = (part: Part): number => part.corners.length - 2 * faceCountOf(part);

export const jointIndexOf = (skeleton: Skeleton, name: string): number =>
  skeleton.joints.findIndex((j) => j.name === name);
export const shapeNamed = (character: Character, name: string): Shape | undefined =>
  character.shapes.find((s) => s.name === name);

/** Whether a joint or other shapes set the shape's weight: such a shape is never looked at alone. */
export const isDriven = (character: Character, name: string): boolean =>
  poseDriven(character).has(name) || character.shapeDrivers.some((d) => d.shape === name);

interface Triangulated {
  readonly triangles: Uint32Array;
  readonly faceOfTriangle: Uint32Array;
}
const triangulated = new WeakMap<Uint32Array, Triangulated & { readonly faceStarts: Uint32Array }>();

/**
 * Fan triangulation of the part's polygons; triangle t belongs to `faceOfTriangle[t]`. Kept with the part's corners: it
 * is the same arrays each time, and nobody writes into them.
 */
export function triangulate(part: Part): Triangulated {
  const known = triangulated.get(part.corners);
  if (known?.faceStarts === part.faceStarts) return known;
  const triangles = new Uint32Array(3 * triangleCountOf(part));
  const faceOfTriangle = new Uint32Array(triangles.length / 3);
  let t = 0;
  for (let f = 0; f < faceCountOf(part); f++) {
    const start = part.faceStarts[f]!;
    const end = part.faceStarts[f + 1]!;
    for (let k = start + 1; k + 1 < end; k++, t++) {
      triangles[3 * t] = part.corners[start]!;
      triangles[3 * t + 1] = part.corners[k]!;
      triangles[3 * t + 2] = part.corners[k + 1]!;
      faceOfTriangle[t] = f;
    }
  }
  triangulated.set(part.corners, { triangles, faceOfTriangle, faceStarts: part.faceStarts });
  return { triangles, faceOfTriangle };
}

/** Face offsets for faces that all have `size` corners. */
export function evenFaceStarts(faceCount: number, size: number): Uint32Array {
  return Uint32Array.from({ length: faceCount + 1 }, (_, f) => f * size);
}

export const DEFAULT_MATERIAL: Material = {
  name: "default",
  baseColor: [0.8, 0.8, 0.8, 1],
  roughness: 0.8,
  metallic: 0,
  opacity: "opaque",
  alphaCutoff: 0.5,
  doubleSided: false,
  texture: null,
};
