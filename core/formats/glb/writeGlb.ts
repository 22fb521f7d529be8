import { Document, WebIO, type Accessor, type Animation, type Node, type Texture } from "@gltf-transform/core";
import {
  faceCountOf,
  NO_JOINT,
  triangulate,
  vertexCountOf,
  type Character,
  type Part,
  type TextureImage,
} from "../../model/character";
import { sampleWeight } from "../../evaluate/sampleTrack";
import { withTwistTracks } from "../../evaluate/twistTracks";
import { skinJoints } from "../../model/skinJoints";
import { drawnCharacter } from "../../model/drawnPart";
import { computeTangents } from "../../deform/computeTangents";
import { drawnNormals } from "../../deform/placeNormals";
import { EXTRAS_VERSION, type RootExtras } from "../extras";
import { lookExtras } from "./foldCopies";
import { writtenPoseDrivers, writtenSampleSets, writtenTwistJoints } from "../poseDrivers";

const GENERATOR = "Yxomorph";
const QUIET = { debug: () => {}, info: () => {}, warn: () => {}, error: () => {} };

/** Top-level notes that glTF has no place for: drivers, joint map, labels. Also the content of the sidecar file. */
export function rootExtras(character: Character): RootExtras {
  return {
    version: EXTRAS_VERSION,
    drivers: character.drivers.map((d) => ({
      shape: d.shape,
      joint: d.joint,
      axis: [...d.axis] as [number, number, number],
      fromDegrees: d.fromDegrees,
      toDegrees: d.toDegrees,
      easing: d.easing,
      intensity: d.intensity,
      enabled: d.enabled,
      ...(d.method ? { method: d.method } : {}),
      ...(d.group ? { group: d.group } : {}),
    })),
    shapeDrivers: character.shapeDrivers.map((d) => ({
      shape: d.shape,
      of: [...d.of],
      rule: d.rule,
      ...(d.span ? { span: { ...d.span } } : {}),
      enabled: d.enabled,
    })),
    poseDrivers: writtenPoseDrivers(character),
    sampleSets: writtenSampleSets(character),
    twistJoints: writtenTwistJoints(character),
    mixes: (character.mixes ?? []).map((m) => ({
      name: m.name,
      shares: m.shares.map((x) => ({ ...x })),
      ...(m.blocks?.length ? { blocks: [...m.blocks] } : {}),
    })),
    baked: (character.baked ?? []).map((b) => ({ ...b })),
    ...(character.retargetPose
      ? {
          retargetPose: Object.fromEntries(
            Object.entries(character.retargetPose).map(([j, q]) => [j, [...q] as [number, number, number, number]]),
          ),
        }
      : {}),
    ...(character.vrm ? { vrm: character.vrm as NonNullable<RootExtras["vrm"]> } : {}),
    jointMap: { ...character.jointMap },
    shapeLabels: Object.fromEntries(character.shapes.filter((s) => s.label !== s.name).map((s) => [s.name, s.label])),
    jointOffsets: Object.fromEntries(
      character.shapes.flatMap((s) =>
        s.jointOffsets
          ? [
              [
                s.name,
                s.jointOffsets.map(({ joint, offset }) => ({ joint, offset: [...offset] as [number, number, number] })),
              ],
            ]
          : [],
      ),
    ),
  };
}

/** Writes a character as GLB; the same character gives the same bytes. */
export async function writeGlb(whole: Character): Promise<Uint8Array> {
  // glTF knows one normal and one texture coordinate a vertex
  const { character, copies } = drawnCharacter(whole);
  const document = new Document();
  const buffer = document.createBuffer();
  const root = document.getRoot();
  root.getAsset().generator = GENERATOR;
  root.setExtras({ yxomorph: rootExtras(character) });
  const accessor = (
    name: string,
    type: Parameters<Accessor["setType"]>[0],
    array: Parameters<Accessor["setArray"]>[0],
  ): Accessor => document.createAccessor(name).setType(type).setArray(array).setBuffer(buffer);
  const scene = document.createScene(character.name);
  root.setDefaultScene(scene);
  // an image that several materials or slots show is written once
  const textures = new Map<Uint8Array, Texture>();
  const textureOf = ({ name, mimeType, bytes }: TextureImage): Texture => {
    const known =
      textures.get(bytes) ??
      document
        .createTexture(name)
        .setMimeType(mimeType)
        .setImage(bytes as Uint8Array<ArrayBuffer>);
    textures.set(bytes, known);
    return known;
  };
  const materials = character.materials.map((m) => {
    const out = document
      .createMaterial(m.name)
      .setBaseColorFactor([...m.baseColor])
      .setRoughnessFactor(m.roughness)
      .setMetallicFactor(m.metallic)
      .setDoubleSided(m.doubleSided);
    out.setAlphaMode(m.opacity === "opaque" ? "OPAQUE" : m.opacity === "mask" ? "MASK" : "BLEND");
    if (m.opacity === "mask") out.setAlphaCutoff(m.alphaCutoff);
    if (m.texture) out.setBaseColorTexture(textureOf(m.texture));
    if (m.emissive) out.setEmissiveFactor([...m.emissive]);
    for (const map of m.maps ?? []) {
      if (map.slot === "normal") out.setNormalTexture(textureOf(map)).setNormalScale(map.strength);
      else if (map.slot === "occlusion") out.setOcclusionTexture(textureOf(map)).setOcclusionStrength(map.strength);
      else if (map.slot === "emissive") out.setEmissiveTexture(textureOf(map));
      else out.setMetallicRoughnessTexture(textureOf(map));
    }
    return out;
  });
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
    const normalsAt = drawnNormals(part);
    const normals = normalsAt(part.positions);
    const { triangles, faceOfTriangle } = triangulate(part);
    const attributes = partAttributes(part, normals, accessor, slots);
    // a normal map is read along tangents, and they turn with the shapes as the normals do
    const bumpy =
      part.uvs !== null &&
      part.groups.some((g) => character.materials[g.material]?.maps?.some((m) => m.slot === "normal"));
    const tangentsAt = (positions: Float32Array, turned: Float32Array): Float32Array<ArrayBuffer> =>
      computeTangents(positions, part.uvs!, triangles, turned);
    const tangents = bumpy ? tangentsAt(part.positions, normals) : null;
    if (tangents) attributes.push(["TANGENT", accessor("", "VEC4", tangents)]);
    const targets = character.shapes.flatMap((s) =>
      s.deltas
        .filter((d) => d.part === p)
        .map((d) => {
          const dense = new Float32Array(part.positions.length);
          d.vertices.forEach((v, k) => dense.set(d.deltas.subarray(3 * k, 3 * k + 3), 3 * v));
          // players that blend normals shade a moved face as its moved surface lies
          const there = part.positions.map((x, i) => x + dense[i]!);
          const normalsThere = normalsAt(there);
          const turned = normalsThere.map((x, i) => x - normals[i]!);
          const bent = leaveStill(turned);
          const packed = (array: Float32Array<ArrayBuffer>, count: number): Accessor =>
            accessor("", "VEC3", array).setSparse(count > 0 && count * 4 < vertexCountOf(part) * 3);
          let tangent: Accessor | null = null;
          if (tangents) {
            const now = tangentsAt(there, normalsThere);
            const swung = Float32Array.from(
              { length: dense.length },
              (_, i) => now[4 * Math.floor(i / 3) + (i % 3)]! - tangents[4 * Math.floor(i / 3) + (i % 3)]!,
            );
            tangent = packed(swung, leaveStill(swung));
          }
          return {
            name: s.name,
            position: packed(dense, d.vertices.length),
            normal: packed(turned as Float32Array<ArrayBuffer>, bent),
            tangent,
          };
        }),
    );
    for (const group of part.groups) {
      const chosen: number[] = [];
      for (let t = 0; t < faceOfTriangle.length; t++) {
        const f = faceOfTriangle[t]!;
        if (f >= group.faceStart && f < group.faceStart + group.faceCount)
          chosen.push(triangles[3 * t]!, triangles[3 * t + 1]!, triangles[3 * t + 2]!);
      }
      if (chosen.length === 0) continue;
      const indices = vertexCountOf(part) <= 65535 ? Uint16Array.from(chosen) : Uint32Array.from(chosen);
      const primitive = document
        .createPrimitive()
        .setIndices(accessor("", "SCALAR", indices))
        .setMaterial(materials[group.material] ?? null);
      for (const [name, a] of attributes) primitive.setAttribute(name, a);
      for (const t of targets)
        primitive.addTarget(
          document
            .createPrimitiveTarget(t.name)
            .setAttribute("POSITION", t.position)
            .setAttribute("NORMAL", t.normal)
            .setAttribute("TANGENT", t.tangent),
        );
      mesh.addPrimitive(primitive);
    }
    mesh.setExtras({
      ...(targets.length ? { targetNames: targets.map((t) => t.name) } : {}),
      yxomorph: { kind: part.kind, ...polygonRuns(part), ...lookExtras(whole.parts[p]!, copies[p]!) },
    });
    if (targets.length) {
      mesh.setWeights(targets.map(() => 0));
      shaped.push({ node, names: targets.map((t) => t.name) });
    }
    const skin = skinFor(part);
    if (skin) node.setSkin(skin);
  });
  writeClips(document, character, joints, shaped, accessor);
  document.setLogger(QUIET as never);
  return new WebIO().setLogger(QUIET as never).writeBinary(document);
}

/** Polygon sizes as runs, groups in order; nothing when all are triangles. */
function polygonRuns(part: Part): { polygons?: number[] } {
  const runs: number[] = [];
  let onlyTriangles = true;
  for (const g of part.groups)
    for (let f = g.faceStart; f < g.faceStart + g.faceCount; f++) {
      const size = part.faceStarts[f + 1]! - part.faceStarts[f]!;
      if (size !== 3) onlyTriangles = false;
      if (runs[runs.length - 2] === size) runs[runs.length - 1]!++;
      else runs.push(size, 1);
    }
  return onlyTriangles || faceCountOf(part) === 0 ? {} : { polygons: runs };
}

type MakeAccessor = (
  name: string,
  type: Parameters<Accessor["setType"]>[0],
  array: Parameters<Accessor["setArray"]>[0],
) => Accessor;

/** Differences of normals that are shorter cannot be seen. */
const LEAST_TURN = 1e-3;

/** Sets turns that cannot be seen to none. @returns how many vertices still turn. */
function leaveStill(turned: Float32Array): number {
  let bent = 0;
  for (let i = 0; i < turned.length; i += 3) {
    if (Math.hypot(turned[i]!, turned[i + 1]!, turned[i + 2]!) > LEAST_TURN) bent++;
    else turned.fill(0, i, i + 3);
  }
  return bent;
}

function partAttributes(
  part: Part,
  normals: Float32Array<ArrayBuffer>,
  accessor: MakeAccessor,
  place: ReadonlyMap<number, number>,
): [string, Accessor][] {
  const vertexCount = vertexCountOf(part);
  const out: [string, Accessor][] = [
    ["POSITION", accessor("", "VEC3", part.positions as Float32Array<ArrayBuffer>)],
    ["NORMAL", accessor("", "VEC3", normals)],
  ];
  if (part.uvs) out.push(["TEXCOORD_0", accessor("", "VEC2", part.uvs as Float32Array<ArrayBuffer>)]);
  if (part.colors) out.push(["COLOR_0", accessor("", "VEC4", part.colors as Float32Array<ArrayBuffer>)]);
  if (part.skin) {
    const { influenceCount, joints, weights } = part.skin;
    for (let s = 0; s * 4 < influenceCount; s++) {
      const j = new Uint16Array(4 * vertexCount);
      const w = new Float32Array(4 * vertexCount);
      for (let v = 0; v < vertexCount; v++)
        for (let k = 0; k < 4 && 4 * s + k < influenceCount; k++) {
          const n = v * influenceCount + 4 * s + k;
          w[4 * v + k] = weights[n]!;
          j[4 * v + k] = weights[n] === 0 ? 0 : place.get(joints[n]!)!;
        }
      out.push([`JOINTS_${s}`, accessor("", "VEC4", j)], [`WEIGHTS_${s}`, accessor("", "VEC4", w)]);
    }
  }
  return out;
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

/** A part's node with the names of its targets, in their order. */
interface ShapedNode {
  readonly node: Node;
  readonly names: readonly string[];
}

function writeClips(
  document: Document,
  character: Character,
  joints: readonly Node[],
  shaped: readonly ShapedNode[],
  accessor: MakeAccessor,
): void {
  for (const clip of withTwistTracks(character)) {
    const animation = document.createAnimation(clip.name);
    for (const track of clip.tracks) {
      const j = character.skeleton?.joints.findIndex((x) => x.name === track.joint) ?? -1;
      if (j < 0) continue;
      const sampler = document
        .createAnimationSampler()
        .setInterpolation(track.interpolation)
        .setInput(accessor("", "SCALAR", track.times as Float32Array<ArrayBuffer>))
        .setOutput(
          accessor("", track.path === "rotation" ? "VEC4" : "VEC3", track.values as Float32Array<ArrayBuffer>),
        );
      animation
        .addSampler(sampler)
        .addChannel(
          document.createAnimationChannel().setTargetNode(joints[j]!).setTargetPath(track.path).setSampler(sampler),
        );
    }
    for (const { node, names } of shaped) writeWeights(document, animation, clip, node, names, accessor);
  }
}

/** Weights of one part's targets: a value for each at every time at which any is keyed. */
function writeWeights(
  document: Document,
  animation: Animation,
  { weights = [] }: Character["clips"][number],
  node: Node,
  names: readonly string[],
  accessor: MakeAccessor,
): void {
  const tracks = names.map((n) => weights.find((w) => w.shape === n));
  const played = tracks.filter((t) => t !== undefined);
  if (played.length === 0) return;
  const times = Float32Array.from(new Set(played.flatMap((t) => [...t.times]))).sort();
  const values = new Float32Array(times.length * names.length);
  times.forEach((t, k) =>
    tracks.forEach((track, n) => {
      if (track) values[k * names.length + n] = sampleWeight(track, t);
    }),
  );
  const sampler = document
    .createAnimationSampler()
    .setInterpolation(played.every((t) => t.interpolation === "STEP") ? "STEP" : "LINEAR")
    .setInput(accessor("", "SCALAR", times))
    .setOutput(accessor("", "SCALAR", values));
  animation
    .addSampler(sampler)
    .addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath("weights").setSampler(sampler));
}
