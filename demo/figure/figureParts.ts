import type { Vec3 } from "../../core/math/vec3";
import type { FaceGroup, Part, PartKind, SkinBinding } from "../../core/model/character";
import { smoothstep } from "../modelling/blend";
import { limbCoordinates } from "./coordinates";
import { isCovered, makeShirt, makeTrousers, type Garment } from "./garments";
import { MATERIAL } from "./materials";
import { brow } from "./parts/brows";
import { eyeball, eyeCoordinates, tearDuct } from "./parts/eyes";
import { cap, hair, hairCoordinates, type HairStyle } from "./parts/hair";
import { lashCoordinates, lashes, tearLine } from "./parts/lashes";
import type { PartMesh } from "./parts/partMesh";
import { skinColours } from "./parts/skinColours";
import { teeth } from "./parts/teeth";
import { tongue, TONGUE_POSES } from "./parts/tongue";
import { headToWorld, worldToHead } from "./placement";
import { jointIndex } from "./rig/joints";
import { TILE } from "./textures";
import { skinWeights, type VertexWeights } from "./rig/skinWeights";
import { makeShoes, type Shoes } from "./shoes";
import type { Skin } from "./skin/buildSkin";

/** All parts of the dressed figure, body first, garments last. */
export function figureParts(skin: Skin): Part[] {
  const weights = skinWeights(skin);
  const lidSkin = {
    eyeRings: skin.head.eyeRings,
    margin: skin.head.margin,
    mirror: skin.mirror,
    points: skin.points.map(worldToHead),
  };
  const tongueMesh = tongue(TONGUE_POSES.rest);
  return [
    bodyPart(skin, weights),
    rigidPart("eye left", "eye", eyeball(1), MATERIAL.eye, "leftEye", eyeCoordinates()),
    rigidPart("eye right", "eye", eyeball(-1), MATERIAL.eye, "rightEye", eyeCoordinates()),
    rigidPart("tear duct left", "eye", tearDuct(1), MATERIAL.tongue, "head"),
    rigidPart("tear duct right", "eye", tearDuct(-1), MATERIAL.tongue, "head"),
    rigidPart("brow left", "brow", brow(1), MATERIAL.brow, "head"),
    rigidPart("brow right", "brow", brow(-1), MATERIAL.brow, "head"),
    rigidPart("lashes left", "lash", lashes(lidSkin, 1), MATERIAL.lash, "head", lashCoordinates()),
    rigidPart("lashes right", "lash", lashes(lidSkin, -1), MATERIAL.lash, "head", lashCoordinates()),
    rigidPart("tear line left", "tear line", tearLine(lidSkin, 1), MATERIAL.tear, "head"),
    rigidPart("tear line right", "tear line", tearLine(lidSkin, -1), MATERIAL.tear, "head"),
    rigidPart("teeth upper", "teeth", teeth(true), MATERIAL.teeth, "head"),
    rigidPart("teeth lower", "teeth", teeth(false), MATERIAL.teeth, "jaw"),
    boundPart("tongue", "tongue", tongueMesh, MATERIAL.tongue, tongueMesh.points.map(tongueWeights)),
    hairPart("bun"),
    garmentPart("top", makeShirt(skin, weights), MATERIAL.top, TILE.top),
    garmentPart("trousers", makeTrousers(skin, weights), MATERIAL.trousers, TILE.trousers),
    shoePart(makeShoes(skin, weights)),
  ];
}

export const hairPart = (style: HairStyle): Part =>
  rigidPart("hair", "hair", hair(style), MATERIAL.hair, "head", hairCoordinates(style));
export const capPart = (material: number): Part => rigidPart("cap", "garment", cap(), material, "head");

function binding(weights: readonly VertexWeights[]): SkinBinding {
  const joints = new Uint16Array(4 * weights.length);
  const shares = new Float32Array(4 * weights.length);
  weights.forEach((list, v) =>
    list.forEach(([joint, share], k) => {
      joints[4 * v + k] = joint;
      shares[4 * v + k] = share;
    }),
  );
  return { influenceCount: 4, joints, weights: shares, inverseBinds: null };
}

interface MeshPart {
  readonly points: readonly Vec3[];
  readonly faces: readonly (readonly number[])[];
  readonly groups: readonly FaceGroup[];
  /** Linear RGB per vertex. */
  readonly colours: readonly Vec3[] | null;
  readonly weights: readonly VertexWeights[];
  /** 2 x points.length. */
  readonly uvs?: Float32Array | undefined;
}
function startsOf(faces: readonly (readonly number[])[]): Uint32Array {
  const starts = new Uint32Array(faces.length + 1);
  faces.forEach((f, i) => (starts[i + 1] = starts[i]! + f.length));
  return starts;
}

const makePart = (name: string, kind: PartKind, { points, faces, groups, colours, weights, uvs }: MeshPart): Part => ({
  name,
  kind,
  positions: Float32Array.from(points.flat()),
  corners: Uint32Array.from(faces.flat()),
  faceStarts: startsOf(faces),
  groups,
  uvs: uvs ?? null,
  colors: colours && Float32Array.from(colours.flatMap((c) => [...c, 1])),
  skin: binding(weights),
});

/**
 * The skin; faces wholly under the garments come last, in a group of their own, so that they can be left out of a
 * dressed picture.
 */
function bodyPart(skin: Skin, weights: readonly VertexWeights[]): Part {
  const covered = skin.quads.filter((q) => q.every((v) => isCovered(skin.tags[v]!)));
  const open = skin.quads.filter((q) => !covered.includes(q));
  const groups = [
    { material: MATERIAL.skin, faceStart: 0, faceCount: open.length },
    { material: MATERIAL.covered, faceStart: open.length, faceCount: covered.length },
  ];
  return makePart("body", "body", {
    points: skin.points,
    faces: [...open, ...covered],
    groups,
    colours: skinColours(skin),
    weights,
    uvs: limbCoordinates(skin.points, weights, TILE.skin),
  });
}

function boundPart(
  name: string,
  kind: PartKind,
  mesh: PartMesh,
  material: number,
  weights: readonly VertexWeights[],
  uvs?: Float32Array,
): Part {
  return makePart(name, kind, {
    points: mesh.points.map(headToWorld),
    faces: mesh.quads,
    groups: [{ material, faceStart: 0, faceCount: mesh.quads.length }],
    colours: mesh.tags,
    weights,
    uvs,
  });
}
const rigidPart = (
  name: string,
  kind: PartKind,
  mesh: PartMesh,
  material: number,
  joint: string,
  uvs?: Float32Array,
): Part =>
  boundPart(
    name,
    kind,
    mesh,
    material,
    mesh.points.map(() => [[jointIndex(joint), 1]]),
    uvs,
  );
const garmentPart = (name: string, { points, quads, weights }: Garment, material: number, tile: number): Part =>
  makePart(name, "garment", {
    points,
    faces: quads,
    groups: [{ material, faceStart: 0, faceCount: quads.length }],
    colours: null,
    weights,
    uvs: limbCoordinates(points, weights, tile),
  });

const shoePart = ({ points, weights, uppers, soles }: Shoes): Part =>
  makePart("shoes", "garment", {
    points,
    faces: [...uppers, ...soles],
    groups: [
      { material: MATERIAL.shoes, faceStart: 0, faceCount: uppers.length },
      { material: MATERIAL.soles, faceStart: uppers.length, faceCount: soles.length },
    ],
    colours: null,
    weights,
    uvs: limbCoordinates(points, weights, TILE.trousers),
  });

/** Root, middle and tip of the tongue by depth. */
function tongueWeights([, , z]: Vec3): VertexWeights {
  const middle = smoothstep(30, 50, z);
  const tip = smoothstep(52, 72, z);
  const shares = (
    [
      ["tongue1", 1 - middle],
      ["tongue2", middle * (1 - tip)],
      ["tongue3", middle * tip],
    ] as const
  ).filter(([, share]) => share > 0.004);
  const total = shares.reduce((sum, [, share]) => sum + share, 0);
  return shares.map(([joint, share]) => [jointIndex(joint), share / total] as const);
}
