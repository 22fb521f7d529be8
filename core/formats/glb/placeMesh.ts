import type { Node, Skin } from "@gltf-transform/core";
import { invertAffine, transformDirection, transformPoint } from "../../math/mat4";
import { NO_JOINT, type Part, type Skeleton, type SkinBinding } from "../../model/character";
import { shortName, UserError } from "../../model/userError";
import type { MeshData } from "./readMesh";
import { bindMatrices, type Bones } from "./readSkeleton";

interface Placed {
  readonly part: Part;
  readonly deltas: MeshData["deltas"];
}

/**
 * Binds a mesh by its skin, or rigidly to the joint it hangs under, or puts it where its node stands.
 * @param world rest matrices of the skeleton, null without one.
 */
export function placeMesh(
  data: MeshData,
  node: Node,
  bones: Bones,
  world: Float64Array | null,
  file: string,
  name: string,
): Placed {
  const skin = node.getSkin();
  if (skin && bones.skeleton && data.influences) return bound(data, data.influences, skin, bones, file, name);
  const m = Float64Array.from(node.getWorldMatrix());
  const positions = new Float32Array(data.part.positions.length);
  const get = (a: Float32Array, i: number): [number, number, number] => [a[i]!, a[i + 1]!, a[i + 2]!];
  for (let i = 0; i < positions.length; i += 3) positions.set(transformPoint(m, 0, get(data.part.positions, i)), i);
  const deltas = new Map(
    [...data.deltas].map(([n, d]) => {
      const moved = new Float32Array(d.deltas.length);
      for (let i = 0; i < moved.length; i += 3) moved.set(transformDirection(m, 0, get(d.deltas, i)), i);
      return [n, { vertices: d.vertices, deltas: moved }];
    }),
  );
  const joint = jointAbove(node, bones);
  const rigid = joint !== NO_JOINT && world && bones.skeleton;
  const binding = rigid ? rigidBinding(positions.length / 3, joint, bones.skeleton!, world) : null;
  return { part: { ...data.part, positions, skin: binding }, deltas };
}

/** A mesh with the influences of its skin, in the skeleton's joints. */
function bound(
  data: MeshData,
  { joints, weights, count }: NonNullable<MeshData["influences"]>,
  skin: Skin,
  bones: Bones,
  file: string,
  name: string,
): Placed {
  const list = skin.listJoints().map((n) => bones.jointOfNode.get(n)!);
  for (let n = 0; n < joints.length; n++) {
    if (weights[n] === 0) {
      joints[n] = list[0] ?? 0;
      continue;
    }
    const j = list[joints[n]!];
    if (j === undefined)
      throw new UserError(
        `Vertex ${Math.floor(n / count)} is bound to joint ${joints[n]} of ${list.length}.`,
        `${file}, part ${shortName(name)}`,
        "Bind the part again and export.",
      );
    joints[n] = j;
  }
  const inverseBinds = ownBinds(skin, bones, file);
  return {
    part: { ...data.part, skin: { influenceCount: count, joints, weights, inverseBinds } },
    deltas: data.deltas,
  };
}

/** The nearest joint of a skin that a node hangs under, or NO_JOINT. */
function jointAbove(node: Node, { skeleton, jointOfNode }: Bones): number {
  for (let n = node.getParentNode(); n; n = n.getParentNode()) {
    const joint = jointOfNode.get(n);
    if (joint !== undefined && skeleton?.inSkin[joint]) return joint;
  }
  return NO_JOINT;
}

/** All vertices held by one joint, where the skeleton stands at rest. */
function rigidBinding(count: number, joint: number, skeleton: Skeleton, world: Float64Array): SkinBinding {
  const inverseBinds = new Float32Array(world.length);
  const inverse = new Float64Array(16);
  for (let j = 0; j < skeleton.joints.length; j++)
    if (invertAffine(inverse, 0, world, 16 * j)) inverseBinds.set(inverse, 16 * j);
  const weights = new Float32Array(4 * count);
  for (let v = 0; v < count; v++) weights[4 * v] = 1;
  return {
    influenceCount: 4,
    joints: new Uint16Array(4 * count).fill(joint),
    weights,
    inverseBinds: sameBinds(inverseBinds, skeleton, [joint]) ? null : inverseBinds,
  };
}

const sameBinds = (own: Float32Array, skeleton: Skeleton, joints: readonly number[]): boolean =>
  joints.every((j) =>
    own.subarray(16 * j, 16 * j + 16).every((x, k) => Math.abs(x - skeleton.inverseBinds[16 * j + k]!) < 1e-6),
  );

function ownBinds(skin: Skin, bones: Bones, file: string): Float32Array | null {
  const skeleton = bones.skeleton!;
  const own = skeleton.inverseBinds.slice();
  const joints: number[] = [];
  bindMatrices(skin, file).forEach((m, node) => {
    const j = bones.jointOfNode.get(node)!;
    joints.push(j);
    own.set(m, 16 * j);
  });
  return sameBinds(own, skeleton, joints) ? null : own;
}
