import type { Animation, Document, Node } from "@gltf-transform/core";
import { sampleWeight } from "../../evaluate/sampleTrack";
import { withTwistTracks } from "../../evaluate/twistTracks";
import type { Character } from "../../model/character";
import type { MakeAccessor } from "./writePart";

/** A part's node with the names of its targets, in their order. */
export interface ShapedNode {
  readonly node: Node;
  readonly names: readonly string[];
}

/** Clips as animations: joints, and the weights of every part's targets. */
export function writeClips(
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
