import {
  NO_JOINT,
  faceCountOf,
  vertexCountOf,
  type Character,
  type Part,
  type ShapeDelta,
  type Skeleton,
} from "./character";
import { kindOf } from "./terms/driverTerms";

type Fail = (what: string) => never;
const finite = (list: ArrayLike<number>): boolean => {
  for (let i = 0; i < list.length; i++) if (!Number.isFinite(list[i]!)) return false;
  return true;
};
/**
 * Farther from the origin than this nothing is a character's, in metres or whatever unit a file is in; beyond it cells
 * of a grid cannot be counted. Our own choice.
 */
export const FARTHEST = 1e7;
/** Whether all numbers are within reach. */
export const near = (list: ArrayLike<number>): boolean => {
  for (let i = 0; i < list.length; i++) if (!(Math.abs(list[i]!) <= FARTHEST)) return false;
  return true;
};
const below = (list: ArrayLike<number>, end: number): boolean => {
  for (let i = 0; i < list.length; i++) if (!(list[i]! < end)) return false;
  return true;
};
const isText = (x: unknown): boolean => typeof x === "string";

/**
 * Proves the invariants that every operation relies on: indices in range, arrays of matching kind and length, finite
 * numbers, parents before children, names that are text. Throws a plain Error naming the first broken one.
 */
export function assertCharacter(character: Character): void {
  const fail: Fail = (what) => {
    throw new Error(`assertCharacter: ${what}`);
  };
  const jointCount = character.skeleton?.joints.length ?? 0;
  if (!isText(character.name)) fail("its name is not text");
  if (character.skeleton) assertSkeleton(character.skeleton, fail);
  character.materials.forEach((m, i) => {
    if (!isText(m.name)) fail(`material ${i}: its name is not text`);
    if (!finite([...m.baseColor, m.roughness, m.metallic, m.alphaCutoff]))
      fail(`material ${m.name}: a factor is not finite`);
    for (const image of [m.texture, ...(m.maps ?? [])])
      if (image && !ArrayBuffer.isView(image.bytes)) fail(`material ${m.name}: a texture without bytes`);
  });
  character.parts.forEach((part) => assertPart(part, character.materials.length, jointCount, fail));
  const shapeNames = new Set(character.shapes.map((s) => s.name));
  const jointNames = new Set(character.skeleton?.joints.map((j) => j.name));
  for (const d of character.shapeDrivers)
    for (const name of [d.shape, ...d.of])
      if (!shapeNames.has(name)) fail(`shape driver of ${d.shape}: no shape ${name}`);
  for (const d of character.drivers)
    if (!finite([...d.axis, d.fromDegrees, d.toDegrees, d.intensity]))
      fail(`driver of ${d.shape}: a number is not finite`);
  for (const d of character.poseDrivers ?? [])
    if (!finite([d.intensity, ...d.terms.flatMap((t) => kindOf(t).numbers(t))]))
      fail(`driver of ${d.shape}: a number is not finite`);
  for (const s of character.sampleSets ?? [])
    if (!finite([s.radiusDegrees, s.twistShare, ...s.samples.flatMap((x) => x.turns.flat())]))
      fail(`sampled poses ${s.name}: a number is not finite`);
  for (const t of character.twistJoints ?? []) {
    if (!finite([...t.axis, ...t.about, t.share])) fail(`twist joint ${t.joint}: a number is not finite`);
    for (const name of [t.joint, t.of]) if (!jointNames.has(name)) fail(`twist joint ${t.joint}: no joint ${name}`);
  }
  for (const m of character.mixes ?? [])
    for (const { shape } of m.shares) if (!shapeNames.has(shape)) fail(`mix ${m.name}: no shape ${shape}`);
  for (const shape of character.shapes) {
    if (!isText(shape.name)) fail("a shape's name is not text");
    for (const { joint } of shape.jointOffsets ?? [])
      if (!jointNames.has(joint)) fail(`shape ${shape.name}: offset of a joint that is not there`);
    for (const delta of shape.deltas) assertDelta(delta, shape.name, character.parts, fail);
  }
  for (const clip of character.clips) {
    if (!isText(clip.name)) fail("a clip's name is not text");
    for (const t of clip.tracks) {
      const each = (t.path === "rotation" ? 4 : 3) * (t.interpolation === "CUBICSPLINE" ? 3 : 1);
      if (t.values.length !== each * t.times.length)
        fail(`clip ${clip.name}: ${t.joint} has ${t.values.length} numbers for ${t.times.length} keys`);
      if (!finite(t.times) || !finite(t.values)) fail(`clip ${clip.name}: a key of ${t.joint} is not finite`);
    }
    for (const w of clip.weights ?? [])
      if (w.values.length !== w.times.length || !finite(w.times) || !finite(w.values))
        fail(`clip ${clip.name}: keys of the shape ${w.shape} are not right`);
  }
}

function assertSkeleton({ joints, inverseBinds, inSkin }: Skeleton, fail: Fail): void {
  const names = new Set<string>();
  joints.forEach((joint, j) => {
    if (!isText(joint.name)) fail(`joint ${j}: its name is not text`);
    if (names.has(joint.name)) fail(`two joints are named ${joint.name}`);
    names.add(joint.name);
    if (joint.parent !== NO_JOINT && !(Number.isInteger(joint.parent) && joint.parent >= 0 && joint.parent < j))
      fail(`joint ${joint.name} comes before its parent`);
    if (
      joint.translation.length !== 3 ||
      joint.rotation.length !== 4 ||
      joint.scale.length !== 3 ||
      !near([...joint.translation, ...joint.rotation, ...joint.scale])
    )
      fail(`joint ${joint.name}: its rest transform is not finite, or beyond reach`);
  });
  if (inverseBinds.length !== 16 * joints.length || inSkin.length !== joints.length)
    fail("inverse binds and joints differ in number");
  if (!finite(inverseBinds)) fail("an inverse bind matrix is not finite");
}

function assertPart(part: Part, materialCount: number, jointCount: number, fail: Fail): void {
  if (!isText(part.name)) fail("a part's name is not text");
  const vertexCount = vertexCountOf(part);
  const at = `part ${part.name}`;
  if (!Number.isInteger(vertexCount)) fail(`${at}: positions not a multiple of 3`);
  if (!finite(part.positions)) fail(`${at}: position not finite`);
  if (!near(part.positions)) fail(`${at}: a vertex lies farther off than ${FARTHEST.toLocaleString("en")} metres`);
  if (
    part.faceStarts.length === 0 ||
    part.faceStarts[0] !== 0 ||
    part.faceStarts[faceCountOf(part)] !== part.corners.length
  )
    fail(`${at}: face offsets do not span the corners`);
  for (let f = 0; f < faceCountOf(part); f++)
    if (part.faceStarts[f + 1]! < part.faceStarts[f]! + 3) fail(`${at}: face ${f} has fewer than 3 corners`);
  if (!below(part.corners, vertexCount)) fail(`${at}: corner out of range`);
  let face = 0;
  for (const g of part.groups) {
    if (g.faceStart !== face || !(Number.isInteger(g.faceCount) && g.faceCount >= 0))
      fail(`${at}: groups do not cover the faces`);
    if (!(Number.isInteger(g.material) && g.material >= 0 && g.material < materialCount))
      fail(`${at}: material out of range`);
    face += g.faceCount;
  }
  if (face !== faceCountOf(part)) fail(`${at}: groups do not cover the faces`);
  if (part.uvs && (part.uvs.length !== 2 * vertexCount || !finite(part.uvs)))
    fail(`${at}: uvs of another length, or not finite`);
  if (part.colors && (part.colors.length !== 4 * vertexCount || !finite(part.colors)))
    fail(`${at}: colours of another length, or not finite`);
  if (part.smooth && (part.smooth.length !== vertexCount || !below(part.smooth, vertexCount)))
    fail(`${at}: hard edges of another length`);
  const look = part.cornerLook;
  if (look?.groups && look.groups.length !== part.corners.length) fail(`${at}: smoothing groups of another length`);
  if (look?.uvs && (look.uvs.length !== 2 * part.corners.length || !finite(look.uvs)))
    fail(`${at}: texture coordinates of corners of another length`);
  const { skin } = part;
  if (!skin) return;
  const n = skin.influenceCount * vertexCount;
  if (skin.joints.length !== n || skin.weights.length !== n) fail(`${at}: skin of another length`);
  if (!below(skin.joints, jointCount)) fail(`${at}: joint out of range`);
  if (!finite(skin.weights)) fail(`${at}: a weight is not finite`);
  if (skin.inverseBinds && (skin.inverseBinds.length !== 16 * jointCount || !finite(skin.inverseBinds)))
    fail(`${at}: bind matrices of another number, or not finite`);
}

function assertDelta(delta: ShapeDelta, shape: string, parts: readonly Part[], fail: Fail): void {
  const part = parts[delta.part];
  if (!part) return fail(`shape ${shape}: part out of range`);
  if (delta.deltas.length !== 3 * delta.vertices.length) fail(`shape ${shape}: delta length`);
  if (!below(delta.vertices, vertexCountOf(part))) fail(`shape ${shape}: vertex out of range`);
  if (!near(delta.deltas))
    fail(`shape ${shape}: a movement is not finite, or farther than ${FARTHEST.toLocaleString("en")} metres`);
}
