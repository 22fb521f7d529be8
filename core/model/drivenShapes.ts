import type { Character } from "./character";
import { jointsRead, shapesRead } from "./terms/driverTerms";

type Driven = Pick<Character, "drivers" | "poseDrivers" | "sampleSets">;

const known = new WeakMap<Driven, ReadonlySet<string>>();

/** Names of the shapes that a pose sets: such a shape is never seen at rest. Found once for a character. */
export function poseDriven(character: Driven): ReadonlySet<string> {
  const found = known.get(character);
  if (found) return found;
  const { drivers, poseDrivers = [], sampleSets = [] } = character;
  const made = new Set([
    ...[...drivers, ...poseDrivers].map((d) => d.shape),
    ...sampleSets.flatMap((s) => s.samples.flatMap(({ shape }) => shape ?? [])),
  ]);
  known.set(character, made);
  return made;
}

/** Names of the shapes that drivers of a pose read beside it. */
export const readByDrivers = ({ poseDrivers = [] }: Pick<Character, "poseDrivers">): Set<string> =>
  new Set(poseDrivers.flatMap((d) => shapesRead(d.terms)));

/** Joints whose turn sets a shape, with one of the shapes that each of them sets. */
export const drivingJoints = ({ drivers, poseDrivers = [], sampleSets = [] }: Driven): Map<string, string> =>
  new Map([
    ...sampleSets.flatMap((s) => s.joints.map(({ joint }) => [joint, s.name] as const)),
    ...poseDrivers.flatMap((d) => jointsRead(d.terms).map((joint) => [joint, d.shape] as const)),
    ...drivers.map((d) => [d.joint, d.shape] as const),
  ]);
