import type { Character, Shape } from "../../model/character";
import { boxOf } from "../../math/boxOf";
import { fromEulerXYZ, rotate } from "../../math/quat";
import { composeTRS } from "../../math/mat4";
import { add, scale, sub, type Vec3 } from "../../math/vec3";
import { partNamed, withPart } from "../mend/places";

export interface Seat {
  /** Millimetres, character space. */
  readonly moveMm: Vec3;
  /** Degrees about x, then y, then z, round the part's middle. */
  readonly turn: Vec3;
  readonly scale: number;
}

/**
 * A part moved, turned and scaled at rest about the middle of its box; its shapes turn and scale with it, its binding
 * stays.
 */
export function seatPart(character: Character, name: string, { moveMm, turn, scale: size }: Seat): Character {
  const { part, index } = partNamed(character, name);
  const { middle } = boxOf(part.positions);
  const q = fromEulerXYZ(...turn);
  const mapped = (values: Float32Array, place: (v: Vec3) => Vec3): Float32Array => {
    const out = new Float32Array(values.length);
    for (let i = 0; i < values.length; i += 3) out.set(place([values[i]!, values[i + 1]!, values[i + 2]!]), i);
    return out;
  };
  const turned = (v: Vec3): Vec3 => scale(rotate(q, v), size);
  const by = scale(moveMm, 1e-3);
  const shape = (s: Shape): Shape => ({
    ...s,
    deltas: s.deltas.map((d) => (d.part === index ? { ...d, deltas: mapped(d.deltas, turned) } : d)),
  });
  return {
    ...withPart(character, index, {
      ...part,
      positions: mapped(part.positions, (p) => add(add(middle, turned(sub(p, middle))), by)),
    }),
    shapes: character.shapes.map(shape),
  };
}

/** The same as a matrix on the part's positions, 16 numbers, column-major. */
export function seatMatrix(positions: Float32Array, { moveMm, turn, scale: size }: Seat): Float64Array {
  const out = new Float64Array(16);
  const { middle } = boxOf(positions);
  const q = fromEulerXYZ(...turn);
  composeTRS(out, 0, add(sub(middle, scale(rotate(q, middle), size)), scale(moveMm, 1e-3)), q, [size, size, size]);
  return out;
}
