import { invertDense } from "../../math/solveDense";
import { rotate } from "../../math/quat";
import { cross, normalize, radians, scale, type Quat, type Vec3 } from "../../math/vec3";
import type { SampleKernel, SampleSet } from "../../model/poseDriver";

/** How far, as a share, weights lean on distance alone: it decides only where the kernels have died away. */
const FAR = 1e-3;

/** Samples of a set made ready to be weighed. */
export interface ReadySamples {
  /** Weights of rest and then of every sample, in order: in 0..1, together 1. @param turns one a joint of the set. */
  readonly weightsAt: (turns: readonly Quat[], out?: Float64Array) => Float64Array;
}

/**
 * Weights by radial basis functions over poses (Lewis, Cordner & Fong 2000, "Pose space deformation"): at each sample
 * exactly 1 for its own. A pose is a point: where each bone points and, by the set's share, where its sides point; the
 * distance of two is the chord between them, so that kernels stay definite whatever the poses are. Weights below 0 are
 * left out and the rest is brought to a sum of 1; where no kernel reaches, the nearest sample counts most.
 * @returns null when two samples (rest is one of them) stand in one pose.
 */
export function readySamples(
  set: Pick<SampleSet, "joints" | "samples" | "kernel" | "radiusDegrees" | "twistShare">,
): ReadySamples | null {
  const { joints, kernel, twistShare } = set;
  const sides = joints.map(({ along }) => squareTo(along));
  const share = twistShare * Math.SQRT1_2;
  const size = joints.length * 9;
  const place = (turns: readonly Quat[], out: Float64Array, at: number): void =>
    joints.forEach(({ along }, j) => {
      const turn = turns[j] ?? [0, 0, 0, 1];
      out.set(rotate(turn, along), at + 9 * j);
      sides[j]!.forEach((side, i) => out.set(scale(rotate(turn, side), share), at + 9 * j + 3 * (i + 1)));
    });
  const count = set.samples.length + 1;
  const places = new Float64Array(count * size);
  place([], places, 0);
  set.samples.forEach(({ turns }, i) => place(turns, places, (i + 1) * size));
  const apart = (a: Float64Array, i: number, b: Float64Array, j: number): number => {
    let sum = 0;
    for (let k = 0; k < size; k++) sum += (a[i * size + k]! - b[j * size + k]!) ** 2;
    return Math.sqrt(sum);
  };
  const radius = 2 * Math.sin(radians(Math.min(180, Math.max(1, set.radiusDegrees))) / 2);
  const matrix = new Float64Array(count * count);
  for (let i = 0; i < count; i++)
    for (let j = 0; j < count; j++) {
      const d = apart(places, i, places, j);
      if (i !== j && d < SAME) return null;
      matrix[i * count + j] = KERNELS[kernel](d, radius);
    }
  const inverse = count === 1 ? Float64Array.of(1) : invertDense(matrix, count);
  if (!inverse) return null;
  const here = new Float64Array(size);
  const values = new Float64Array(count);
  const distances = new Float64Array(count);
  return {
    weightsAt: (turns, out = new Float64Array(count)) => {
      place(turns, here, 0);
      for (let i = 0; i < count; i++) {
        distances[i] = apart(here, 0, places, i);
        values[i] = KERNELS[kernel](distances[i]!, radius);
      }
      let sum = 0;
      const near = nearness(distances);
      for (let i = 0; i < count; i++) {
        let w = 0;
        for (let j = 0; j < count; j++) w += values[j]! * inverse[j * count + i]!;
        out[i] = Math.max(0, w) + FAR * near[i]!;
        sum += out[i]!;
      }
      for (let i = 0; i < count; i++) out[i]! /= sum;
      return out;
    },
  };
}

/** Two poses closer than this (chord, about 0.06 degrees) are one. */
const SAME = 1e-3;

const KERNELS: Record<SampleKernel, (d: number, radius: number) => number> = {
  gaussian: (d, r) => Math.exp(-((d / r) ** 2)),
  compact: (d, r) => (d >= r ? 0 : (1 - d / r) ** 4 * (1 + (4 * d) / r)),
  linear: (d) => d,
};

/** Weights by distance alone, together 1: 1 at a sample, most for the nearest elsewhere (Shepard 1968, power 4). */
function nearness(distances: Float64Array): Float64Array {
  const least = distances.reduce((a, b) => Math.min(a, b));
  const out = distances.map((d) => (least === 0 ? Number(d === 0) : (least / d) ** 4));
  const sum = out.reduce((a, b) => a + b, 0);
  return out.map((x) => x / sum);
}

/** Two unit directions square to a bone and to each other. */
function squareTo(along: Vec3): [Vec3, Vec3] {
  const least = [0, 1, 2].reduce((k, i) => (Math.abs(along[i]!) < Math.abs(along[k]!) ? i : k), 0);
  const one = normalize(cross(along, [Number(least === 0), Number(least === 1), Number(least === 2)]));
  return [one, cross(along, one)];
}
