import { withTracks } from "../../model/character";
import { NO_JOINT, type Character, type ClipTrack, type Part, type Shape } from "../../model/character";
import { fromAxes, multiplyQuat, rotate } from "../../math/quat";
import { cross, scale, type Quat, type Vec3 } from "../../math/vec3";
import { AXIS_VECTORS, type Axis } from "../../model/axes";
import { UserError } from "../../model/userError";

/**
 * The whole character moved up or down until its lowest point stands on the ground: parts, roots, bindings and the
 * roots' keys.
 */
export function putOnGround(character: Character): Character {
  let lowest = Infinity;
  for (const p of character.parts) for (const v of p.corners) lowest = Math.min(lowest, p.positions[3 * v + 1]!);
  if (!Number.isFinite(lowest) || lowest === 0) return character;
  const { skeleton } = character;
  const lifted = (values: Float32Array): Float32Array => values.map((x, i) => (i % 3 === 1 ? x - lowest : x));
  // what is bound stands higher: the way to joint space first comes down again
  const binds = (from: Float32Array): Float32Array =>
    from.map((x, i) =>
      i % 16 >= 12 && i % 16 < 15 ? x + lowest * from[16 * Math.floor(i / 16) + 4 + (i % 16) - 12]! : x,
    );
  const roots = new Set(skeleton?.joints.filter((j) => j.parent === NO_JOINT).map((j) => j.name));
  return {
    ...character,
    parts: character.parts.map((p): Part => ({
      ...p,
      positions: lifted(p.positions),
      skin: p.skin && { ...p.skin, inverseBinds: p.skin.inverseBinds && binds(p.skin.inverseBinds) },
    })),
    skeleton: skeleton && {
      ...skeleton,
      inverseBinds: binds(skeleton.inverseBinds),
      joints: skeleton.joints.map((j) =>
        j.parent === NO_JOINT
          ? { ...j, translation: [j.translation[0], j.translation[1] - lowest, j.translation[2]] as const }
          : j,
      ),
    },
    clips: character.clips.map((c) =>
      withTracks(c, (all) =>
        all.map((t) => (t.path === "translation" && roots.has(t.joint) ? { ...t, values: lifted(t.values) } : t)),
      ),
    ),
  };
}

/**
 * The whole character scaled and turned, so that its `up` becomes +Y and its `front` +Z: parts, shapes, skeleton,
 * bindings, joint offsets and clips together. In every pose it is exactly what it was, scaled and turned. @param factor
 * new length over old. @throws UserError when up and front lie along one line.
 */
export function standUp(character: Character, factor: number, up: Axis, front: Axis): Character {
  const [y, z] = [AXIS_VECTORS[up], AXIS_VECTORS[front]];
  if (up[1] === front[1])
    throw new UserError(`Up and front cannot both lie along ${up[1]}.`, "scale and turn", "Choose two different axes.");
  // rows of the turn are the old axes: its inverse has them as columns
  const x = cross(y, z);
  const back = fromAxes(x, y, z);
  const turn: Quat = [-back[0], -back[1], -back[2], back[3]];
  const moved = (v: Vec3): Vec3 => scale(rotate(turn, v), factor);
  const movedAll = (values: Float32Array): Float32Array => eachPoint(values, moved);
  const binds = (from: Float32Array): Float32Array => turnedBinds(from, turn, factor);
  const { skeleton } = character;
  const roots = new Set(skeleton?.joints.filter((j) => j.parent === NO_JOINT).map((j) => j.name));
  const track = (t: ClipTrack): ClipTrack => {
    const isRoot = roots.has(t.joint);
    if (t.path === "translation")
      return { ...t, values: eachPoint(t.values, isRoot ? moved : (v) => scale(v, factor)) };
    return t.path === "rotation" && isRoot ? { ...t, values: turnedKeys(t.values, turn) } : t;
  };
  const shape = (s: Shape): Shape => ({
    ...s,
    deltas: s.deltas.map((d) => ({ ...d, deltas: movedAll(d.deltas) })),
    ...(s.jointOffsets ? { jointOffsets: s.jointOffsets.map((o) => ({ ...o, offset: moved(o.offset) })) } : {}),
  });
  return {
    ...character,
    parts: character.parts.map((p): Part => ({
      ...p,
      positions: movedAll(p.positions),
      skin: p.skin && { ...p.skin, inverseBinds: p.skin.inverseBinds && binds(p.skin.inverseBinds) },
    })),
    shapes: character.shapes.map(shape),
    ...(character.setAside ? { setAside: character.setAside.map(shape) } : {}),
    skeleton: skeleton && {
      ...skeleton,
      inverseBinds: binds(skeleton.inverseBinds),
      joints: skeleton.joints.map((j) =>
        j.parent === NO_JOINT
          ? { ...j, translation: moved(j.translation), rotation: multiplyQuat(turn, j.rotation) }
          : { ...j, translation: scale(j.translation, factor) },
      ),
    },
    clips: character.clips.map((c) => withTracks(c, (all) => all.map(track))),
  };
}

function eachPoint(values: Float32Array, to: (v: Vec3) => Vec3): Float32Array {
  const out = new Float32Array(values.length);
  for (let i = 0; i < values.length; i += 3) out.set(to([values[i]!, values[i + 1]!, values[i + 2]!]), i);
  return out;
}

/** Joint space grows by the factor: rotation of the inverse bind takes back the turn, its translation grows. */
function turnedBinds(from: Float32Array, turn: Quat, factor: number): Float32Array {
  const out = from.slice();
  for (let m = 0; m < from.length; m += 16)
    for (let r = 0; r < 3; r++) {
      const row = rotate(turn, [from[m + r]!, from[m + 4 + r]!, from[m + 8 + r]!]);
      for (let c = 0; c < 3; c++) out[m + 4 * c + r] = row[c]!;
      out[m + 12 + r] = factor * from[m + 12 + r]!;
    }
  return out;
}

function turnedKeys(values: Float32Array, turn: Quat): Float32Array {
  const out = values.slice();
  for (let k = 0; k < values.length; k += 4)
    out.set(multiplyQuat(turn, [values[k]!, values[k + 1]!, values[k + 2]!, values[k + 3]!]), k);
  return out;
}
