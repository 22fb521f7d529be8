import { dot, type Vec3 } from "../math/vec3";
import type { Driver } from "./character";

type Turn = Pick<Driver, "joint" | "axis">;
type Range = Pick<Driver, "fromDegrees" | "toDegrees">;

/** What makes a shape rise smoothly while a joint turns about an axis, from one angle to full at another, degrees. */
export const drivenByTurn = ({ joint, axis }: Turn, fromDegrees: number, toDegrees: number): Omit<Driver, "shape"> => ({
  joint,
  axis,
  fromDegrees,
  toDegrees,
  easing: "smooth",
  intensity: 1,
  enabled: true,
});

/** A driver whose joint counts its angles from another rest: what was so many degrees is none. */
export const countedFrom = (driver: Driver, degrees: number): Driver => ({
  ...driver,
  fromDegrees: driver.fromDegrees - degrees,
  toDegrees: driver.toDegrees - degrees,
});

/** Between whole degrees. */
export const wholeDegrees = (driver: Driver): Driver => ({
  ...driver,
  fromDegrees: Math.round(driver.fromDegrees),
  toDegrees: Math.round(driver.toDegrees),
});

/**
 * The range of a driver counted along an axis of its joint, degrees; null where it reads another joint or turns about
 * something else. @param least cosine between the two axes, either way round.
 */
export function rangeAlong(
  driver: Turn & Range,
  joint: string,
  axis: Vec3,
  least: number,
): { from: number; to: number } | null {
  const along = driver.joint === joint ? dot(driver.axis, axis) : 0;
  if (Math.abs(along) < least) return null;
  const sense = Math.sign(along);
  return { from: sense * driver.fromDegrees, to: sense * driver.toDegrees };
}

/** A range in words. */
export const rangeWords = ({ joint, fromDegrees, toDegrees }: Pick<Driver, "joint"> & Range): string =>
  `${joint} from ${fromDegrees}° to ${toDegrees}°`;
