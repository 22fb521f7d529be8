import { NO_JOINT, faceCountOf, vertexCountOf, type Character } from "./character";

/**
 * Proves the invariants that every operation relies on: indices in range, arrays of matching length, finite numbers,
 * parents before children. Throws a plain Error naming the first broken one.
 */
export function assertCharacter(character: Character): void {
  const fail = (what: string): never => {
    throw new Error(`assertCharacter: ${what}`);
  };
  const jointCount = character.skeleton?.joints.length ?? 0;
  character.skeleton?.joints.forEach((joint, j) => {
    if (joint.parent !== NO_JOINT && !(joint.parent >= 0 && joint.parent < j)) fail(`joint ${joint.name} comes before its parent`);
  });
  if (character.skeleton && character.skeleton.inverseBinds.length !== 16 * jointCount) fail("inverse binds and joints differ in number");
  character.parts.forEach((part) => {
    const vertexCount = vertexCountOf(part);
    const at = `part ${part.name}`;
    if (!Number.isInteger(vertexCount)) fail(`${at}: positions not a multiple of 3`);
    if (!part.positions.every(Number.isFinite)) fail(`${at}: position not finite`);
    if (part.faceStarts[0] !== 0 || part.faceStarts[faceCountOf(part)] !== part.corners.length) fail(`${at}: face offsets do not span the corners`);
    if (part.corners.some((v) => v >= vertexCount)) fail(`${at}: corner out of range`);
    if (part.groups.reduce((n, g) => n + g.faceCount, 0) !== faceCountOf(part)) fail(`${at}: groups do not cover the faces`);
    if (part.groups.some((g) => g.material < 0 || g.material >= character.materials.length)) fail(`${at}: material out of range`);
    if (part.uvs && part.uvs.length !== 2 * vertexCount) fail(`${at}: uvs of another length`);
    if (part.colors && part.colors.length !== 4 * vertexCount) fail(`${at}: colours of another length`);
    if (part.skin) {
      const n = part.skin.influenceCount * vertexCount;
      if (part.skin.joints.length !== n || part.skin.weights.length !== n) fail(`${at}: skin of another length`);
      if (part.skin.joints.some((j) => j >= jointCount)) fail(`${at}: joint out of range`);
    }
  });
  const shapeNames = new Set(character.shapes.map((s) => s.name));
  for (const d of character.shapeDrivers) for (const name of [d.shape, ...d.of]) if (!shapeNames.has(name)) fail(`shape driver of ${d.shape}: no shape ${name}`);
  for (const m of character.mixes ?? []) for (const { shape } of m.shares) if (!shapeNames.has(shape)) fail(`mix ${m.name}: no shape ${shape}`);
  for (const shape of character.shapes) for (const { joint } of shape.jointOffsets ?? []) if (!character.skeleton?.joints.some((j) => j.name === joint)) fail(`shape ${shape.name}: offset of a joint that is not there`);
  for (const shape of character.shapes)
    for (const delta of shape.deltas) {
      const part = character.parts[delta.part];
      if (!part) fail(`shape ${shape.name}: part out of range`);
      if (delta.deltas.length !== 3 * delta.vertices.length) fail(`shape ${shape.name}: delta length`);
      if (delta.vertices.some((v) => v >= vertexCountOf(part!))) fail(`shape ${shape.name}: vertex out of range`);
    }
}
