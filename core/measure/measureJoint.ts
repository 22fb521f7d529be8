import type { Skeleton } from "../model/character";
import { allocateDeformed, deform, type Deformed, type Rig } from "../deform/rig";
import { REST_MOMENT, type Moment } from "../evaluate/moment";
import type { Bvh } from "../math/bvh";
import { ownTree, restTree } from "../surface/restTree";
import { edgeStretch, percentile, vertexStretch } from "./edgeStretch";
import { mainRegion, type JointRegion } from "./jointRegion";
import { limbVolume } from "./limbVolume";
import { poseLooks } from "./poseLooks";
import { makeOverlapFinder, skinOverlap, type OverlapFinder } from "./skinOverlap";
import { carriedNormals, turnedFaces } from "./turnedFaces";

/** What every pose of one joint is measured against; built once. */
export interface JointGauge {
  readonly rig: Rig;
  readonly jointName: string;
  readonly region: JointRegion;
  readonly finder: OverlapFinder;
  readonly rest: Float32Array;
  /** Skinning matrices at rest, 16 x jointCount: not identity where the mesh is bound in another pose. */
  readonly restMatrices: Float64Array;
  readonly restVolume: number;
  /** Overlap that is there at rest already, metres: never counted. */
  readonly restDepths: Float32Array;
  readonly scratch: Deformed;
  /**
   * For moments that are read again and again with other shapes: how the skin carries the normals of the limb's
   * triangles there. Only where no shape moves joints.
   */
  readonly carriedAt?: WeakMap<Moment, Float32Array>;
}

export interface JointReading {
  /** Change of the limb's volume against rest, share (-0.17 is 17 % lost). */
  readonly volume: number;
  /** Deepest overlap of skin in skin, mm. */
  readonly depth: number;
  /** 99th percentile of edge length over rest length, in the bending zone. */
  readonly stretch: number;
  /** Triangles turned inside out. */
  readonly flips: number;
  /** How the limb looks (`poseLooks`): degrees, mm; none in readings that were kept before these were read. */
  readonly crease?: number;
  readonly bone?: number;
  /** How rough what correctives do there is, mm (`roughness`); none where none are at work. */
  readonly roughness?: number;
}
export interface JointFields {
  readonly part: number;
  /** Per vertex: largest edge stretch, 1 where untouched. */
  readonly stretch: Float32Array;
  /** Per vertex: overlap depth in mm. */
  readonly depth: Float32Array;
  readonly flipped: Uint32Array;
}

const wholeTrees = new WeakMap<Uint32Array, Bvh>();
/** A tree over all triangles of a part, one for all its joints: every reading refits it. */
function wholeTree(triangles: Uint32Array, rest: Float32Array): Bvh {
  const tree = wholeTrees.get(triangles) ?? ownTree(restTree(triangles, rest));
  wholeTrees.set(triangles, tree);
  return tree;
}

/** @returns null when no part is bent by the joint. */
export function makeJointGauge(rig: Rig, joint: number): JointGauge | null {
  const region = mainRegion(rig, joint);
  if (!region) return null;
  const scratch = allocateDeformed(rig);
  const triangles = rig.triangles[region.part]!;
  deform(rig, { ...REST_MOMENT, drivers: false }, { out: scratch, parts: [region.part] });
  const rest = scratch.positions[region.part]!.slice();
  const finder = makeOverlapFinder(region, triangles, rest, wholeTree(triangles, rest));
  const restDepths = skinOverlap(finder, rest, rest, scratch.normals[region.part]!).depths;
  return {
    rig,
    jointName: (rig.character.skeleton as Skeleton).joints[joint]!.name,
    region,
    finder,
    rest,
    restMatrices: scratch.matrices[region.part]!.slice(),
    restVolume: limbVolume(region, triangles, rest),
    restDepths,
    scratch,
  };
}

/** The same gauge for a character whose shapes and drivers changed but whose parts and skeleton did not. */
export const withRig = (gauge: JointGauge, rig: Rig): JointGauge => ({ ...gauge, rig, scratch: allocateDeformed(rig) });

/** Measures one moment. Shapes set by hand are part of it; rest is the bare rest pose. */
export function measureJoint(gauge: JointGauge, moment: Moment): { reading: JointReading; fields: JointFields } {
  const { region, rig, scratch, carriedAt } = gauge;
  const { part } = region;
  deform(rig, moment, { out: scratch, parts: [part] });
  if (!carriedAt) return measurePosed(gauge, scratch);
  const { positions, skin } = rig.character.parts[part]!;
  const carried =
    carriedAt.get(moment) ??
    carriedNormals(rig.triangles[part]!, region.limbTriangles, positions, skin, scratch.matrices[part]!);
  carriedAt.set(moment, carried);
  return measurePosed(gauge, scratch, carried);
}

/**
 * Measures a joint in a character that is deformed already, its part's normals included. @param carried normals of the
 * limb's triangles as the skin carries them there, where they are known.
 */
export function measurePosed(
  gauge: JointGauge,
  deformed: Deformed,
  carried?: Float32Array,
): { reading: JointReading; fields: JointFields } {
  const { region, rig, finder, rest } = gauge;
  const { part } = region;
  const triangles = rig.triangles[part]!;
  const posed = deformed.positions[part]!;
  const edges = edgeStretch(region.edges, rest, posed);
  const overlap = skinOverlap(finder, rest, posed, deformed.normals[part]!);
  const flipped = turnedFaces(
    triangles,
    region.limbTriangles,
    rig.character.parts[part]!.positions,
    posed,
    rig.character.parts[part]!.skin,
    deformed.matrices[part]!,
    carried,
  );
  const depth = new Float32Array(overlap.depths.length);
  let deepest = 0;
  for (let v = 0; v < depth.length; v++) {
    const extra = overlap.depths[v]! - gauge.restDepths[v]!;
    if (extra > 0) depth[v] = extra * 1000;
    if (depth[v]! > deepest) deepest = depth[v]!;
  }
  return {
    reading: {
      volume: limbVolume(region, triangles, posed) / gauge.restVolume - 1,
      depth: deepest,
      stretch: edges.length ? percentile(edges, 0.99) : 1,
      flips: flipped.length,
      ...poseLooks(gauge, posed, deformed.matrices[part]!),
    },
    fields: { part, stretch: vertexStretch(region.edges, edges, posed.length / 3), depth, flipped },
  };
}
