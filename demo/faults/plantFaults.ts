import { worldMatrices } from "../../core/evaluate/poseSkeleton";
import { decomposeTRS, invertAffine, translationOf } from "../../core/math/mat4";
import { betweenDirections, conjugate, fromAxisAngle, multiplyQuat, rotate } from "../../core/math/quat";
import { normalize, sub } from "../../core/math/vec3";
import {
  faceCountOf,
  vertexCountOf,
  type Character,
  type Clip,
  type Part,
  type Skeleton,
} from "../../core/model/character";
import { duplicateVertices } from "../../core/model/duplicateVertices";
import { FOREIGN_PREFIX } from "./plantedFaults";
import { withShapeFaults } from "./plantShapeFaults";

/** Oda as she first arrived: the clean figure with the faults of plantedFaults.ts, each at its place. */
export function plantFaults(clean: Character): Character {
  const joint = (name: string): number => clean.skeleton!.joints.findIndex((j) => j.name === name);
  const change: Record<string, (part: Part) => Part> = {
    body: withLooseVertices,
    top: withFin,
    trousers: withDoubledCorner,
    hair: (part) => withStrayTuft(part, joint("leftUpperArm")),
  };
  const skeleton = withSwappedToes(withHairTip(withTurnedKnee(withStraightElbow(clean.skeleton!)), joint("hips")));
  const renamed = (name: string): string => `${FOREIGN_PREFIX}${name}`;
  return {
    ...clean,
    name: "Oda, delivery 1",
    parts: [...clean.parts.map((p) => change[p.name]?.(p) ?? p), helperPlane()],
    materials: clean.materials.map((m) => (m.name === "lash" ? { ...m, opacity: "opaque" as const } : m)),
    shapes: withShapeFaults(clean).map((s) =>
      s.jointOffsets ? { ...s, jointOffsets: s.jointOffsets.map((o) => ({ ...o, joint: renamed(o.joint) })) } : s,
    ),
    skeleton: { ...skeleton, joints: skeleton.joints.map((j) => ({ ...j, name: renamed(j.name) })) },
    clips: clean.clips
      .map((clip) => withClipFaults(clip))
      .map((clip) => ({ ...clip, tracks: clip.tracks.map((t) => ({ ...t, joint: renamed(t.joint) })) })),
  };
}

/** A square of two metres under the figure, bound to nothing. */
function helperPlane(): Part {
  return {
    name: "ground plane",
    kind: "other",
    positions: Float32Array.from([-1, 0, -1, -1, 0, 1, 1, 0, 1, 1, 0, -1]),
    corners: Uint32Array.of(0, 1, 2, 3),
    faceStarts: Uint32Array.of(0, 4),
    groups: [{ material: 1, faceStart: 0, faceCount: 1 }],
    uvs: Float32Array.of(0, 0, 0, 1, 1, 1, 1, 0),
    colors: null,
    skin: null,
  };
}

/** Turns the left knee's frame about its bone; what hangs on it stays where it is. */
function withTurnedKnee(skeleton: Skeleton): Skeleton {
  const knee = skeleton.joints.findIndex((j) => j.name === "leftLowerLeg");
  const turn = fromAxisAngle([0, 1, 0], KNEE_TURN);
  const back = conjugate(turn);
  return rebound({
    ...skeleton,
    joints: skeleton.joints.map((j, i) =>
      i === knee
        ? { ...j, rotation: multiplyQuat(j.rotation, turn) }
        : j.parent === knee
          ? { ...j, translation: rotate(back, j.translation), rotation: multiplyQuat(back, j.rotation) }
          : j,
    ),
  });
}

const withSwappedToes = (skeleton: Skeleton): Skeleton => ({
  ...skeleton,
  joints: skeleton.joints.map((j) =>
    j.name === "leftToes" ? { ...j, name: "rightToes" } : j.name === "rightToes" ? { ...j, name: "leftToes" } : j,
  ),
});

/** The look round scales the head, the walk has its last frame twice. */
function withClipFaults(clip: Clip): Clip {
  if (clip.name === "look round") {
    const { times } = clip.tracks[0]!;
    const values = Float32Array.from(
      { length: 3 * times.length },
      (_, i) => 1 + 0.04 * Math.sin((Math.PI * Math.floor(i / 3)) / times.length),
    );
    return {
      ...clip,
      tracks: [...clip.tracks, { joint: "head", path: "scale", interpolation: "LINEAR", times, values }],
    };
  }
  if (clip.name !== "walk") return clip;
  return {
    ...clip,
    tracks: clip.tracks.map((t) => {
      const width = t.values.length / t.times.length;
      const last = t.times.length - 1;
      return {
        ...t,
        times: Float32Array.from([...t.times, t.times[last]! + t.times[last]! - t.times[last - 1]!]),
        values: Float32Array.from([...t.values, ...t.values.subarray(width * last)]),
      };
    }),
  };
}

const LOOSE_COUNT = 8;
const KNEE_TURN = 12;

/** Appends copies of some vertices that no face uses. */
function withLooseVertices(part: Part): Part {
  const from = Array.from({ length: LOOSE_COUNT }, (_, i) => 300 + 40 * i);
  return appendVertices(part, from, [0, 0, 0.004]);
}

/** Appends copies of vertices, moved a little; colours and weights are copied along. */
const appendVertices = (part: Part, from: readonly number[], by: readonly number[]): Part =>
  duplicateVertices(
    part,
    from,
    from.flatMap((v) => [0, 1, 2].map((k) => part.positions[3 * v + k]! + by[k]!)),
  );

/** One more face on an edge that two faces share already. */
function withFin(part: Part): Part {
  const [a, b] = innerEdge(part);
  const grown = appendVertices(part, [a, b], [0, 0.012, 0.012]);
  const n = vertexCountOf(part);
  const corners = Uint32Array.from([...part.corners, a, b, n + 1, n]);
  const groups = part.groups.map((g, i) => (i === part.groups.length - 1 ? { ...g, faceCount: g.faceCount + 1 } : g));
  return { ...grown, corners, faceStarts: Uint32Array.from([...part.faceStarts, corners.length]), groups };
}

/** The first edge from the middle of the face list on that two faces share. */
function innerEdge(part: Part): [number, number] {
  const faces = new Map<string, number>();
  const edges: [number, number][] = [];
  for (let f = 0; f < faceCountOf(part); f++)
    for (let k = part.faceStarts[f]!, end = part.faceStarts[f + 1]!; k < end; k++) {
      const a = part.corners[k]!;
      const b = part.corners[k + 1 < end ? k + 1 : part.faceStarts[f]!]!;
      const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
      faces.set(key, (faces.get(key) ?? 0) + 1);
      edges.push([a, b]);
    }
  return edges.slice(edges.length >> 1).find(([a, b]) => faces.get(`${Math.min(a, b)} ${Math.max(a, b)}`) === 2)!;
}

function withDoubledCorner(part: Part): Part {
  const corners = part.corners.slice();
  const face = part.faceStarts[faceCountOf(part) >> 1]!;
  corners[face + 1] = corners[face]!;
  return { ...part, corners };
}

/** The topmost vertices of the hair are given to another joint. */
function withStrayTuft(part: Part, joint: number): Part {
  const height = (v: number): number => part.positions[3 * v + 1]!;
  const top = Array.from({ length: vertexCountOf(part) }, (_, v) => v)
    .sort((a, b) => height(b) - height(a))
    .slice(0, 14);
  const joints = part.skin!.joints.slice();
  const weights = part.skin!.weights.slice();
  const n = part.skin!.influenceCount;
  for (const v of top)
    for (let k = 0; k < n; k++) {
      joints[n * v + k] = k === 0 ? joint : 0;
      weights[n * v + k] = k === 0 ? 1 : 0;
    }
  return { ...part, skin: { ...part.skin!, joints, weights } };
}

/** Turns the rest of the right elbow until upper and lower arm make one line, and binds it so. */
function withStraightElbow(skeleton: Skeleton): Skeleton {
  const at = (name: string): number => skeleton.joints.findIndex((j) => j.name === name);
  const [shoulder, elbow, hand] = [at("rightUpperArm"), at("rightLowerArm"), at("rightHand")];
  const world = worldMatrices(skeleton, {});
  const place = (j: number) => translationOf(world, 16 * j);
  const turn = betweenDirections(
    normalize(sub(place(hand), place(elbow))),
    normalize(sub(place(elbow), place(shoulder))),
  );
  const frame = decomposeTRS(world, 16 * elbow).q;
  const up = decomposeTRS(world, 16 * skeleton.joints[elbow]!.parent).q;
  const rotation = multiplyQuat(conjugate(up), multiplyQuat(turn, frame));
  return rebound({ ...skeleton, joints: skeleton.joints.map((j, i) => (i === elbow ? { ...j, rotation } : j)) });
}

/** Inverse binds of the rest pose as it stands. */
function rebound(skeleton: Skeleton): Skeleton {
  const world = worldMatrices(skeleton, {});
  const inverseBinds = new Float32Array(world.length);
  const m = new Float64Array(16);
  for (let j = 0; j < skeleton.joints.length; j++) {
    invertAffine(m, 0, world, 16 * j);
    inverseBinds.set(m, 16 * j);
  }
  return { ...skeleton, inverseBinds };
}

/** A joint for the hair that nothing hangs on. */
function withHairTip(skeleton: Skeleton, parent: number): Skeleton {
  const tip = {
    name: "hairTip",
    parent,
    translation: [0, 0.22, -0.02] as const,
    rotation: [0, 0, 0, 1] as const,
    scale: [1, 1, 1] as const,
  };
  return rebound({
    joints: [...skeleton.joints, tip],
    inverseBinds: new Float32Array(16 * (skeleton.joints.length + 1)),
    inSkin: Uint8Array.from([...skeleton.inSkin, 1]),
  });
}
