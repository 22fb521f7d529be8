import type { Character, Driver, Easing, ShapeDriver } from "../../model/character";
import { twistDegrees } from "../../math/quat";
import { clamp } from "../../math/vec3";
import { poseRotation, type Pose } from "../poseSkeleton";
import { smoothStep } from "../../math/smoothStep";

/** 0..1 to 0..1. */
export const EASINGS: Record<Easing, (t: number) => number> = {
  linear: (t) => t,
  smooth: smoothStep,
  "slow start": (t) => t * t,
  "slow end": (t) => t * (2 - t),
};

/** Turn in degrees that a driver reads from a pose. */
export const driverAngle = (driver: Pick<Driver, "joint" | "axis">, pose: Pose): number =>
  twistDegrees(poseRotation(pose, driver.joint), driver.axis);

/** Weight a driver gives at an angle in degrees, intensity included. A range of no width is a step at `from`. */
export function driverWeightAt(driver: Omit<Driver, "shape" | "joint" | "axis">, angle: number): number {
  if (!driver.enabled) return 0;
  const span = driver.toDegrees - driver.fromDegrees;
  const t =
    Math.abs(span) < 1e-9 ? (angle >= driver.fromDegrees ? 1 : 0) : clamp((angle - driver.fromDegrees) / span, 0, 1);
  return driver.intensity * EASINGS[driver.easing](t);
}

/**
 * Weight a combination or in-between gives at weights of the shapes it reads. Negative weights count as none. An
 * in-between rises as a parabola
 * from `from` to full at `peak` and falls to `to`: half-way, from 0 to 1, it is 4w(1 - w).
 */
export function shapeDriverWeight(
  driver: Pick<ShapeDriver, "rule" | "span" | "enabled">,
  sources: readonly number[],
): number {
  if (!driver.enabled || sources.length === 0) return 0;
  const w = sources.map((x) => Math.max(0, x));
  switch (driver.rule) {
    case "product":
      return w.reduce((a, b) => a * b, 1);
    case "minimum":
      return Math.min(...w);
    case "beyond one":
      return clamp(w.reduce((a, b) => a + b, 0) - 1, 0, 1);
    case "in-between": {
      const { from, peak, to } = driver.span ?? HALF_WAY;
      const t = w[0]! <= peak ? (peak - w[0]!) / (peak - from) : (w[0]! - peak) / (to - peak);
      return Math.max(0, 1 - t * t);
    }
  }
}
export const HALF_WAY = { from: 0, peak: 0.5, to: 1 } as const;

/** Weights by name with what the enabled combinations and in-betweens add to them, in the order of the drivers. */
export function withDrivenWeights(
  character: Pick<Character, "shapeDrivers">,
  weights: ReadonlyMap<string, number>,
): Map<string, number> {
  const all = new Map(weights);
  for (const d of character.shapeDrivers) {
    const w = shapeDriverWeight(
      d,
      d.of.map((n) => all.get(n) ?? 0),
    );
    if (w > 0) all.set(d.shape, (all.get(d.shape) ?? 0) + w);
  }
  return all;
}
