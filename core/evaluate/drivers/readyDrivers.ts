import type { Character } from "../../model/character";
import type { DriverKind, ReadyDriver } from "./driverKind";
import { poseDriver } from "./poseDriver";
import { samplesDriver } from "./samplesDriver";
import { shapesDriver } from "./shapesDriver";
import { turnDriver } from "./turnDriver";

/** All kinds, in the order in which they act: what reads weights comes after what reads the pose. */
const KINDS: readonly DriverKind[] = [turnDriver, samplesDriver, poseDriver, shapesDriver];

export interface ReadyShapes {
  readonly shapeIndex: ReadonlyMap<string, number>;
  readonly drivers: readonly ReadyDriver[];
}
const known = new WeakMap<Character, ReadyShapes>();

/** Shapes by name and the drivers of a character, made ready once. */
export function readyShapes(character: Character): ReadyShapes {
  const found = known.get(character);
  if (found) return found;
  const shapeIndex = new Map(character.shapes.map((s, i) => [s.name, i]));
  const made = { shapeIndex, drivers: KINDS.flatMap((kind) => kind.ready(character, shapeIndex)) };
  known.set(character, made);
  return made;
}
