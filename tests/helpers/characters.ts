import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { fromEulerXYZ } from "../../core/math/quat";
import { invertAffine } from "../../core/math/mat4";
import {
  DEFAULT_MATERIAL,
  NO_JOINT,
  type Character,
  type Joint,
  type Part,
  type PartKind,
  type Shape,
  type Skeleton,
  type SkinBinding,
} from "../../core/model/character";
import { between } from "./random";

/** Character with everything empty but what is given. */
export const characterWith = (fields: Partial<Character>): Character => ({
  name: "test",
  parts: [],
  materials: [DEFAULT_MATERIAL],
  skeleton: null,
  shapes: [],
  drivers: [],
  shapeDrivers: [],
  clips: [],
  jointMap: {},
  notes: [],
  ...fields,
});

/** Part from plain arrays; faces may have any number of corners. */
export function partOf(
  name: string,
  points: readonly (readonly [number, number, number])[],
  faces: readonly (readonly number[])[],
  extra: Partial<Part> = {},
): Part {
  const faceStarts = new Uint32Array(faces.length + 1);
  faces.forEach((f, i) => (faceStarts[i + 1] = faceStarts[i]! + f.length));
  return {
    name,
    kind: "body",
    positions: Float32Array.from(points.flat()),
    corners: Uint32Array.from(faces.flat()),
    faceStarts,
    groups: [{ material: 0, faceStart: 0, faceCount: faces.length }],
    uvs: null,
    colors: null,
    skin: null,
    ...extra,
  };
}

/** Axis-aligned box of quads, faces outward. */
export function boxPart(
  name = "box",
  half: readonly [number, number, number] = [0.5, 0.5, 0.5],
  at: readonly [number, number, number] = [0, 0, 0],
  kind: PartKind = "body",
): Part {
  const points = Array.from({ length: 8 }, (_, i): [number, number, number] => [
    at[0] + (i & 1 ? half[0] : -half[0]),
    at[1] + (i & 2 ? half[1] : -half[1]),
    at[2] + (i & 4 ? half[2] : -half[2]),
  ]);
  return partOf(
    name,
    points,
    [
      [0, 2, 3, 1],
      [4, 5, 7, 6],
      [0, 1, 5, 4],
      [2, 6, 7, 3],
      [0, 4, 6, 2],
      [1, 3, 7, 5],
    ],
    { kind },
  );
}

/** Skeleton from rest transforms relative to the parent; inverse binds are those of the rest pose. */
export function skeletonOf(joints: readonly (Partial<Joint> & { name: string; parent: number })[]): Skeleton {
  const full = joints.map((j): Joint => ({ translation: [0, 0, 0], rotation: [0, 0, 0, 1], scale: [1, 1, 1], ...j }));
  const bare: Skeleton = {
    joints: full,
    inverseBinds: new Float32Array(16 * full.length),
    inSkin: new Uint8Array(full.length).fill(1),
  };
  const world = worldMatrices(bare, {});
  full.forEach((_, j) => invertAffine(bare.inverseBinds, 16 * j, world, 16 * j));
  return bare;
}

/** One influence a vertex. */
export const rigidSkin = (vertexCount: number, joint: number): SkinBinding => ({
  influenceCount: 1,
  joints: new Uint16Array(vertexCount).fill(joint),
  weights: new Float32Array(vertexCount).fill(1),
  inverseBinds: null,
});

export interface TubeOptions {
  readonly rings?: number;
  readonly sides?: number;
  readonly radius?: number;
  readonly length?: number;
  /** Width of the blend around the middle joint, share of the length. */
  readonly blend?: number;
}

/**
 * A closed round tube along +Y with an upper joint at its foot and a lower one at its middle: a limb in its simplest
 * form.
 */
export function tube({
  rings = 33,
  sides = 24,
  radius = 0.05,
  length = 0.6,
  blend = 0.2,
}: TubeOptions = {}): Character {
  const points: [number, number, number][] = [];
  const faces: number[][] = [];
  for (let r = 0; r < rings; r++)
    for (let s = 0; s < sides; s++)
      points.push([
        radius * Math.cos((2 * Math.PI * s) / sides),
        (length * r) / (rings - 1),
        radius * Math.sin((2 * Math.PI * s) / sides),
      ]);
  for (let r = 0; r + 1 < rings; r++)
    for (let s = 0; s < sides; s++)
      faces.push([
        r * sides + s,
        (r + 1) * sides + s,
        (r + 1) * sides + ((s + 1) % sides),
        r * sides + ((s + 1) % sides),
      ]);
  const foot = points.push([0, 0, 0]) - 1;
  const top = points.push([0, length, 0]) - 1;
  for (let s = 0; s < sides; s++) {
    faces.push([foot, s, (s + 1) % sides]);
    faces.push([top, (rings - 1) * sides + ((s + 1) % sides), (rings - 1) * sides + s]);
  }
  const joints = new Uint16Array(2 * points.length);
  const weights = new Float32Array(2 * points.length);
  points.forEach(([, y], v) => {
    const t = Math.min(1, Math.max(0, (y / length - 0.5) / blend + 0.5));
    const w = t * t * (3 - 2 * t);
    joints.set([0, 1], 2 * v);
    weights.set([1 - w, w], 2 * v);
  });
  const part = partOf("limb", points, faces, { skin: { influenceCount: 2, joints, weights, inverseBinds: null } });
  return characterWith({
    name: "tube",
    parts: [part],
    skeleton: skeletonOf([
      { name: "upper", parent: NO_JOINT },
      { name: "lower", parent: 0, translation: [0, length / 2, 0] },
    ]),
  });
}

/** Shape that moves some vertices of one part. */
export const shapeOf = (
  name: string,
  moves: Readonly<Record<number, readonly [number, number, number]>>,
  part = 0,
  label = name,
): Shape => ({
  name,
  label,
  deltas: [
    {
      part,
      vertices: Uint32Array.from(Object.keys(moves).map(Number)),
      deltas: Float32Array.from(Object.values(moves).flat()),
    },
  ],
});

/**
 * A cloud of vertices on a random tree of joints, with random skin weights, shapes and rest transforms: for comparing
 * deformers.
 */
export function randomCharacter(
  random: () => number,
  { joints = 7, vertices = 200, influences = 4, shapes = 3 } = {},
): Character {
  const skeleton = skeletonOf(
    Array.from({ length: joints }, (_, j) => ({
      name: `joint ${j}`,
      parent: j === 0 ? NO_JOINT : Math.floor(random() * j),
      translation: [between(random, -0.3, 0.3), between(random, 0, 0.4), between(random, -0.3, 0.3)] as const,
      rotation: fromEulerXYZ(between(random, -90, 90), between(random, -90, 90), between(random, -90, 90)),
    })),
  );
  const points = Array.from({ length: vertices }, (): [number, number, number] => [
    between(random, -1, 1),
    between(random, 0, 2),
    between(random, -1, 1),
  ]);
  const skinJoints = new Uint16Array(influences * vertices);
  const weights = new Float32Array(influences * vertices);
  for (let v = 0; v < vertices; v++) {
    const w = Array.from({ length: influences }, () => random());
    const sum = w.reduce((a, b) => a + b, 0);
    const used = new Set<number>();
    for (let k = 0; k < influences; k++) {
      let j = Math.floor(random() * joints);
      while (used.has(j)) j = (j + 1) % joints;
      used.add(j);
      skinJoints[v * influences + k] = j;
      weights[v * influences + k] = w[k]! / sum;
    }
  }
  const faces = Array.from({ length: Math.floor(vertices / 3) }, (_, f) => [3 * f, 3 * f + 1, 3 * f + 2]);
  const part = partOf("cloud", points, faces, {
    skin: { influenceCount: influences, joints: skinJoints, weights, inverseBinds: null },
  });
  const made = Array.from({ length: shapes }, (_, s) =>
    shapeOf(
      `shape ${s}`,
      Object.fromEntries(
        Array.from({ length: Math.floor(vertices / 4) }, (): [number, [number, number, number]] => [
          Math.floor(random() * vertices),
          [between(random, -0.1, 0.1), between(random, -0.1, 0.1), between(random, -0.1, 0.1)],
        ]),
      ),
    ),
  );
  return characterWith({ name: "random", parts: [part], skeleton, shapes: made });
}

/** Euler angles for every joint, degrees. */
export const randomPose = (
  random: () => number,
  character: Character,
  range = 120,
): Record<string, [number, number, number]> =>
  Object.fromEntries(
    character.skeleton!.joints.map((j) => [
      j.name,
      [between(random, -range, range), between(random, -range, range), between(random, -range, range)],
    ]),
  );

/** A stick figure's joints in VRM 1.0 proportions, names made by `name`; standing in A pose, 1.7 m. */
export function figureSkeleton(name: (bone: string) => string = (b) => b): Skeleton {
  const spec: [string, string | null, [number, number, number]][] = [
    ["hips", null, [0, 0.95, 0]],
    ["spine", "hips", [0, 0.1, 0]],
    ["chest", "spine", [0, 0.12, 0]],
    ["upperChest", "chest", [0, 0.12, 0]],
    ["neck", "upperChest", [0, 0.16, 0]],
    ["head", "neck", [0, 0.09, 0.01]],
    ...(["left", "right"] as const).flatMap((side): [string, string, [number, number, number]][] => {
      const s = side === "left" ? 1 : -1;
      return [
        [`${side}Shoulder`, "upperChest", [0.03 * s, 0.1, 0]],
        [`${side}UpperArm`, `${side}Shoulder`, [0.13 * s, 0, 0]],
        [`${side}LowerArm`, `${side}UpperArm`, [0.2 * s, -0.18, -0.012]],
        [`${side}Hand`, `${side}LowerArm`, [0.18 * s, -0.17, 0.012]],
        [`${side}UpperLeg`, "hips", [0.09 * s, -0.05, 0]],
        [`${side}LowerLeg`, `${side}UpperLeg`, [0, -0.42, 0.012]],
        [`${side}Foot`, `${side}LowerLeg`, [0, -0.41, -0.03]],
        [`${side}Toes`, `${side}Foot`, [0, -0.06, 0.13]],
      ];
    }),
  ];
  const index = new Map(spec.map(([bone], i) => [bone, i]));
  return skeletonOf(
    spec.map(([bone, parent, translation]) => ({
      name: name(bone),
      parent: parent === null ? NO_JOINT : index.get(parent)!,
      translation,
    })),
  );
}
