import type { Document, Node, Root, Skin } from "@gltf-transform/core";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { invertAffine } from "../../math/mat4";
import { within } from "../../model/budget";
import { NO_JOINT, type Joint, type Skeleton } from "../../model/character";
import { uniqueName } from "../../model/uniqueName";
import { shortName, UserError } from "../../model/userError";
import { floats } from "./accessorFloats";

/** A file's skeleton, and which of its nodes are the joints. */
export interface Bones {
  readonly skeleton: Skeleton | null;
  readonly jointOfNode: ReadonlyMap<Node, number>;
}

const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/** The joints of a glTF file: what its skins list, all above and below them; without a skin, what its clips move. */
export function readSkeleton(document: Document, file: string, notes: string[]): Bones {
  const root = document.getRoot();
  const skins = root.listSkins();
  const nodes = jointNodes(root);
  const jointOfNode = new Map(nodes.map((n, i) => [n, i]));
  if (nodes.length === 0) return { skeleton: null, jointOfNode };
  within("joints", nodes.length, file, "Send the character without its scene.");
  const joints = jointsOf(nodes, jointOfNode, notes);
  for (const j of joints)
    if (![...j.translation, ...j.rotation, ...j.scale].every(Number.isFinite))
      throw new UserError(
        "Its rest transform is not a number.",
        `${file}, joint ${shortName(j.name)}`,
        "Reset the joint and export again.",
      );
  const inverseBinds = new Float32Array(16 * joints.length);
  for (let j = 0; j < joints.length; j++) inverseBinds.set(IDENTITY, 16 * j);
  const inSkin = new Uint8Array(joints.length);
  for (const skin of skins)
    bindMatrices(skin, file).forEach((m, node) => {
      const j = jointOfNode.get(node)!;
      if (!inSkin[j]) inverseBinds.set(m, 16 * j);
      inSkin[j] = 1;
    });
  // a node that no skin lists is bound where it stands, should it ever be given weight
  const world = worldMatrices({ joints, inverseBinds, inSkin }, {});
  const inverse = new Float64Array(16);
  for (let j = 0; j < joints.length; j++)
    if (!inSkin[j] && invertAffine(inverse, 0, world, 16 * j)) inverseBinds.set(inverse, 16 * j);
  return { skeleton: { joints, inverseBinds, inSkin }, jointOfNode };
}

/** Nodes that are joints, in file order, but a parent always before its children. */
function jointNodes(root: Root): Node[] {
  const skins = root.listSkins();
  // a file of clips alone has no skin: what they move are its joints
  const moved = (): Node[] =>
    root.listMeshes().length
      ? []
      : root.listAnimations().flatMap((a) => a.listChannels().flatMap((c) => c.getTargetNode() ?? []));
  const isJoint = new Set(skins.length ? skins.flatMap((s) => s.listJoints()) : moved());
  const keep = new Set<Node>();
  for (const joint of isJoint) for (let n: Node | null = joint; n; n = n.getParentNode()) keep.add(n);
  const under = (n: Node): void => {
    if (!n.getMesh()) keep.add(n);
    n.listChildren().forEach(under);
  };
  isJoint.forEach(under);
  const ordered = new Set<Node>();
  const place = (n: Node): void => {
    const parent = n.getParentNode();
    if (parent && keep.has(parent) && !ordered.has(parent)) place(parent);
    ordered.add(n);
  };
  for (const n of root.listNodes()) if (keep.has(n)) place(n);
  return [...ordered];
}

function jointsOf(nodes: readonly Node[], jointOfNode: ReadonlyMap<Node, number>, notes: string[]): Joint[] {
  const taken = new Set<string>();
  return nodes.map((n, i): Joint => {
    const name = uniqueName(n.getName(), taken, `joint ${i}`);
    if (n.getName() && name !== n.getName())
      notes.push(`A second joint named ${shortName(n.getName())} is called ${shortName(name)} here.`);
    const parent = n.getParentNode();
    return {
      name,
      parent: parent && jointOfNode.has(parent) ? jointOfNode.get(parent)! : NO_JOINT,
      translation: n.getTranslation(),
      rotation: n.getRotation(),
      scale: n.getScale(),
    };
  });
}

/** By node of a skin, its inverse bind matrix, column-major. @throws UserError when there are fewer than joints. */
export function bindMatrices(skin: Skin, file: string): Map<Node, Float32Array> {
  const joints = skin.listJoints();
  const accessor = skin.getInverseBindMatrices();
  const values = accessor ? floats(accessor, "inverse bind matrices", file) : null;
  if (values && values.length < 16 * joints.length)
    throw new UserError(
      `There are ${values.length / 16} inverse bind matrices for ${joints.length} joints.`,
      `${file}, skin ${skin.getName() || 0}`,
      "Bind the mesh again and export.",
    );
  return new Map(
    joints.map((n, i) => [n, values ? values.subarray(16 * i, 16 * i + 16) : Float32Array.from(IDENTITY)]),
  );
}
