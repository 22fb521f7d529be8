import { HALF_WAY } from "../evaluate/drivers/driverWeight";
import { eyeballsOf } from "../measure/eyeballs";
import { heightOverEye } from "../measure/heightOverEye";
import type { Character, Shape, ShapeDelta, ShapeDriver } from "../model/character";
import { carryMovement, carrySurface } from "../surface/carryMovement";

/** Skin within this many radii of the eyeball's centre is kept off it. */
const REACH = 1.35;
/** Pushes shorter than this are left out, metres. */
const LEAST_PUSH = 5e-6;

export interface InBetween {
  readonly shape: Shape;
  readonly driver: ShapeDriver;
}

/**
 * An in-between that keeps the lids on their way round the eyeball: a straight blend from open to shut runs along
 * chords and cuts into it. At half weight every vertex of skin near the eyeball gets the radial height over it that
 * lies half-way between its heights at rest and at full, where the chord lies lower; lashes and tear lines are carried
 * along. Null when the shape moves no skin near an eyeball or nothing needs a push. Changes nothing of the character.
 */
export function lidInBetween(character: Character, shape: Shape, name: string, label: string): InBetween | null {
  const body = character.parts.findIndex((p) => p.kind === "body");
  const own = shape.deltas.find((d) => d.part === body);
  if (!own) return null;
  const P = character.parts[body]!.positions;
  const eyes = eyeballsOf(character).map((eye) => ({ eye, height: heightOverEye(character, eye) }));
  const vertices: number[] = [];
  const deltas: number[] = [];
  own.vertices.forEach((v, k) => {
    const rest = [P[3 * v]!, P[3 * v + 1]!, P[3 * v + 2]!];
    const along = (share: number): number[] => rest.map((x, c) => x + share * own.deltas[3 * k + c]!);
    for (const { eye, height } of eyes) {
      if (Math.hypot(...rest.map((x, c) => x - eye.centre[c]!)) > REACH * eye.radius) continue;
      const half = along(0.5);
      const [atRest, atHalf, atFull] = [height(rest), height(half), height(along(1))];
      if (atRest === null || atHalf === null || atFull === null) continue;
      const push = (atRest + atFull) / 2 - atHalf;
      if (push < LEAST_PUSH) continue;
      const out = half.map((x, c) => x - eye.centre[c]!);
      const l = Math.hypot(...out);
      vertices.push(v);
      deltas.push(...out.map((x) => (push * x) / l));
    }
  });
  if (!vertices.length) return null;
  const skin: ShapeDelta = { part: body, vertices: Uint32Array.from(vertices), deltas: Float32Array.from(deltas) };
  const followers = character.parts.flatMap((part, p) =>
    part.kind === "lash" || part.kind === "tear line" ? [p] : [],
  );
  const surface = carrySurface(character.parts[body]!);
  const carried = followers.flatMap((p) => carryMovement(character, p, skin, surface) ?? []);
  return {
    shape: { name, label, deltas: [skin, ...carried].sort((a, b) => a.part - b.part) },
    driver: { shape: name, of: [shape.name], rule: "in-between", span: HALF_WAY, enabled: true },
  };
}
