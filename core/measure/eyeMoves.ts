import { sub, type Vec3 } from "../math/vec3";
import type { Character, Shape } from "../model/character";
import { eyeballsOf, type Eyeball } from "./eyeballs";
import { fitSphere } from "./fitSphere";

export interface EyeMove {
  readonly eye: Eyeball;
  /** How far the shape at full takes the centre of the eyeball, metres. */
  readonly move: Vec3;
}

const known = new WeakMap<Character["parts"], readonly Eyeball[]>();
/** The eyeballs of a character, fitted once for its parts. */
export function eyesOf(character: Character): readonly Eyeball[] {
  const found = known.get(character.parts) ?? eyeballsOf(character);
  known.set(character.parts, found);
  return found;
}

/**
 * Where a shape takes the eyeballs it moves: a sphere is fitted to each again. One that is round no more under the
 * shape is left out; one that only turns moves by nothing.
 */
export function eyeMoves(character: Character, shape: Shape): EyeMove[] {
  return eyesOf(character).flatMap((eye): EyeMove[] => {
    const delta = shape.deltas.find((d) => d.part === eye.part && d.vertices.length > 0);
    if (!delta) return [];
    const positions = character.parts[eye.part]!.positions.slice();
    delta.vertices.forEach((v, k) => {
      for (let c = 0; c < 3; c++) positions[3 * v + c]! += delta.deltas[3 * k + c]!;
    });
    const sphere = fitSphere(positions);
    return sphere && sphere.residual <= 0.1 * sphere.radius ? [{ eye, move: sub(sphere.centre, eye.centre) }] : [];
  });
}
