import { Document, WebIO, type Node } from "@gltf-transform/core";
import { drawnCharacter } from "../../model/drawnPart";
import { NO_JOINT, type Character, type Part } from "../../model/character";
import { skinJoints } from "../../model/skinJoints";
import { lookExtras } from "./foldCopies";
import { rootExtras } from "./rootExtras";
import { writeClips, type ShapedNode } from "./writeClips";
import { writeMaterials } from "./writeMaterials";
import { polygonRuns, writePart, type MakeAccessor } from "./writePart";

const GENERATOR = "Yxomorph";
const QUIET = { debug: () => {}, info: () => {}, warn: () => {}, error: () => {} };

/** Writes a character as GLB; the same character gives the same bytes. */
export async function writeGlb(whole: Character): Promise<Uint8Array> {
  // glTF knows one normal and one texture coordinate a vertex
  const { character, copies } = drawnCharacter(whole);
  const document = new Document();
  const buffer = document.createBuffer();
  const root = document.getRoot();
  root.getAsset().generator = GENERATOR;
  root.setExtras({ yxomorph: rootExtras(character) });
  const accessor: MakeAccessor = (name, type, array) =>
    document.createAccessor(name).setType(type).setArray(array).setBuffer(buffer);
  const scene = document.createScene(character.name);
  root.setDefaultScene(scene);
  const materials = writeMaterials(document, character.materials);
  const joints = (character.skeleton?.joints ?? []).map((j) =>
    document
      .createNode(j.name)
      .setTranslation([...j.translation])
      .setRotation([...j.rotation])
      .setScale([...j.scale]),
  );
  character.skeleton?.joints.forEach((j, i) =>
    j.parent === NO_JOINT ? scene.addChild(joints[i]!) : joints[j.parent]!.addChild(joints[i]!),
  );
  const slots = new Map(skinJoints(character).map((j, slot) => [j, slot]));
  const skinFor = makeSkins(document, character, joints, accessor, [...slots.keys()]);
  const shaped: ShapedNode[] = [];
  character.parts.forEach((part, p) => {
    const mesh = document.createMesh(part.name);
    const node = document.createNode(part.name).setMesh(mesh);
    scene.addChild(node);
    const names = writePart(document, mesh, character, p, materials, slots, accessor);
    mesh.setExtras({
      ...(names.length ? { targetNames: names } : {}),
      yxomorph: { kind: part.kind, ...polygonRuns(part), ...lookExtras(whole.parts[p]!, copies[p]!) },
    });
    if (names.length) shaped.push({ node, names });
    const skin = skinFor(part);
    if (skin) node.setSkin(skin);
  });
  writeClips(document, character, joints, shaped, accessor);
  document.setLogger(QUIET as never);
  return new WebIO().setLogger(QUIET as never).writeBinary(document);
}

function makeSkins(
  document: Document,
  character: Character,
  joints: readonly Node[],
  accessor: MakeAccessor,
  listed: readonly number[],
): (part: Part) => ReturnType<Document["createSkin"]> | null {
  const { skeleton } = character;
  const made = new Map<Float32Array, ReturnType<Document["createSkin"]>>();
  return (part) => {
    if (!skeleton || !part.skin) return null;
    const binds = part.skin.inverseBinds ?? skeleton.inverseBinds;
    const known = made.get(binds);
    if (known) return known;
    const skin = document
      .createSkin("skin")
      .setInverseBindMatrices(
        accessor("", "MAT4", Float32Array.from(listed.flatMap((j) => Array.from(binds.subarray(16 * j, 16 * j + 16))))),
      );
    listed.forEach((j) => skin.addJoint(joints[j]!));
    const top = skeleton.joints.findIndex((j) => j.parent === NO_JOINT);
    if (top >= 0 && skeleton.joints.filter((j) => j.parent === NO_JOINT).length === 1) skin.setSkeleton(joints[top]!);
    made.set(binds, skin);
    return skin;
  };
}
