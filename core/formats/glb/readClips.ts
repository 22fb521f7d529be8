import type { Accessor, Animation, AnimationChannel, Document, Mesh } from "@gltf-transform/core";
import type { Clip, ClipTrack, WeightTrack } from "../../model/character";
import { cleanName } from "../../model/cleanName";
import { shortName, UserError } from "../../model/userError";
import { floats } from "./accessorFloats";
import { namesOfTargets } from "./readMesh";
import type { Bones } from "./readSkeleton";

const TODO = "Export the clip again.";

/** The animations of a glTF file: tracks of joints, and weights of shapes. What moves anything else is left out. */
export const readClips = (document: Document, bones: Bones, file: string, notes: string[]): Clip[] =>
  document
    .getRoot()
    .listAnimations()
    .map((animation, i) => readClip(animation, i, bones, file, notes));

function readClip(animation: Animation, i: number, bones: Bones, file: string, notes: string[]): Clip {
  const called = shortName(animation.getName() || String(i + 1));
  const tracks: ClipTrack[] = [];
  const weights = new Map<string, WeightTrack>();
  for (const channel of animation.listChannels()) {
    const mesh = channel.getTargetNode()?.getMesh();
    const sampler = channel.getSampler();
    const [input, output] = [sampler?.getInput(), sampler?.getOutput()];
    if (channel.getTargetPath() === "weights" && mesh && input && output) {
      readWeights(mesh, input, output, sampler!.getInterpolation(), weights, `${file}, clip ${called}`);
      continue;
    }
    const track = jointTrack(channel, bones, { file, called, index: i, notes });
    if (track) tracks.push(track);
    else notes.push(`Clip ${called}: a track of ${channel.getTargetPath() ?? "nothing"} without a joint was left out.`);
  }
  return {
    name: cleanName(animation.getName()) || `clip ${i + 1}`,
    tracks,
    ...(weights.size ? { weights: [...weights.values()] } : {}),
  };
}

interface ClipPlace {
  readonly file: string;
  readonly called: string;
  readonly index: number;
  readonly notes: string[];
}

/** The keys of a joint; null where the channel moves none. */
function jointTrack(channel: AnimationChannel, bones: Bones, at: ClipPlace): ClipTrack | null {
  const node = channel.getTargetNode();
  const sampler = channel.getSampler();
  const path = channel.getTargetPath();
  const joint = node && bones.jointOfNode.get(node);
  const [input, output] = [sampler?.getInput(), sampler?.getOutput()];
  if (joint === undefined || joint === null || !bones.skeleton || !input || !output) return null;
  if (path === "weights" || !path) return null;
  const { file, called, index, notes } = at;
  const place = `${file}, clip ${called}`;
  const { name } = bones.skeleton.joints[joint]!;
  const times = floats(input, `clip ${index}, times`, file, TODO);
  const back = times.findIndex((t, k) => k > 0 && !(t > times[k - 1]!));
  if (back > 0)
    throw new UserError(
      `Key ${back} of ${shortName(name)} comes at ${times[back]} s, after one at ${times[back - 1]} s.`,
      place,
      "Export the clip again, with its keys in order of time.",
    );
  const interpolation = sampler!.getInterpolation();
  const given = floats(output, `clip ${index}, values`, file, TODO);
  const values = path === "rotation" ? unitTurns(given, interpolation, place, name) : given;
  if (values !== given) notes.push(`Clip ${called}: turns of ${shortName(name)} brought to unit length.`);
  return { joint: name, path, interpolation, times, values };
}

/** A turn whose length is this far from 1 is rounding. */
const UNIT = 1e-3;

/**
 * Turns at unit length: between others no way can be told. Tangents of splines are scaled with their keys. The same
 * array where all are. @throws UserError for one of no length.
 */
function unitTurns(
  values: Float32Array,
  interpolation: ClipTrack["interpolation"],
  place: string,
  joint: string,
): Float32Array {
  const cubic = interpolation === "CUBICSPLINE";
  const step = cubic ? 12 : 4;
  let out = values;
  for (let k = 0; k * step < values.length; k++) {
    const at = k * step + (cubic ? 4 : 0);
    const long = Math.hypot(values[at]!, values[at + 1]!, values[at + 2]!, values[at + 3]!);
    if (!(long > 1e-6)) throw new UserError(`Key ${k} of ${shortName(joint)} is a turn of no length.`, place, TODO);
    if (Math.abs(long - 1) <= UNIT) continue;
    if (out === values) out = values.slice();
    for (let i = k * step; i < (k + 1) * step; i++) out[i] = values[i]! / long;
  }
  return out;
}

/**
 * Weights of a mesh's shapes over time, by shape; one that another mesh has played already is left. Of cubic splines
 * the values are kept and led over straight.
 */
function readWeights(
  mesh: Mesh,
  input: Accessor,
  output: Accessor,
  interpolation: ClipTrack["interpolation"],
  into: Map<string, WeightTrack>,
  place: string,
): void {
  const [primitive] = mesh.listPrimitives();
  const names = primitive ? namesOfTargets(primitive, (mesh.getExtras() as { targetNames?: unknown }).targetNames) : [];
  const times = floats(input, `${place}, times of weights`, place, TODO);
  const values = floats(output, `${place}, weights`, place, TODO);
  const each = interpolation === "CUBICSPLINE" ? 3 : 1;
  if (values.length !== each * times.length * names.length)
    throw new UserError(
      `There are ${values.length} weights for ${times.length} keys of ${names.length} shapes.`,
      place,
      TODO,
    );
  const back = times.findIndex((t, k) => k > 0 && !(t > times[k - 1]!));
  if (back > 0)
    throw new UserError(`Key ${back} of its weights comes at ${times[back]} s, after a later one.`, place, TODO);
  names.forEach((shape, n) => {
    const own = Float32Array.from(times, (_, k) => values[(k * each + (each === 3 ? 1 : 0)) * names.length + n]!);
    if (into.has(shape) || own.every((w) => w === 0)) return;
    into.set(shape, { shape, interpolation: interpolation === "STEP" ? "STEP" : "LINEAR", times, values: own });
  });
}
