import { piercingDepth } from "../../measure/throughSkin";
import { eyeballsOf } from "../../measure/eyeballs";
import { lidSamples, meanOf } from "../../measure/lidSamples";
import { movedBy } from "../../model/movedBy";
import { heightOverEye } from "../../measure/heightOverEye";
import type { Character, ShapeDelta } from "../../model/character";
import { UserError } from "../../model/userError";
import { neededShape, partNamed } from "./places";
import { fadeOut } from "../../math/smoothStep";

/** Skin within this many radii of the eyeball's centre may be pushed. */
const REACH = 1.35;
/** Height over the eyeball that the lid's vertices are given at least, metres: faces between them sag by half of it. */
const CLEARANCE = 0.0006;
/** Height of the middles of edges and faces, metres. */
const CLEARANCE_BETWEEN = 0.0001;
/**
 * A push holds over this angle seen from the eye's centre and fades out over as much again, radians: both layers of the
 * lid go together.
 */
const HOLDS = 0.14;

/** Pushes the lids out along the eyeball where a shape at full brings them into it; the lid keeps its thickness. */
export function pushLidsOut(character: Character, shapeName: string, partName: string): Character {
  const shape = neededShape(character, shapeName);
  const { part, index } = partNamed(character, partName);
  let delta = shape.deltas.find((d) => d.part === index);
  if (!delta) throw new UserError(`${shapeName} does not move ${partName}.`, "mend", "");
  const P = part.positions;
  for (const eye of eyeballsOf(character)) {
    const height = heightOverEye(character, eye);
    const isNear = (v: number): boolean =>
      Math.hypot(...[0, 1, 2].map((c) => P[3 * v + c]! - eye.centre[c]!)) < REACH * eye.radius;
    const { moved } = movedBy(part, delta);
    const needs = new Map<number, number>();
    for (const vertices of lidSamples(part, isNear)) {
      const [before, after] = [height(meanOf(P, vertices)), height(meanOf(moved, vertices))];
      if (before === null || after === null) continue;
      // what lies in the eyeball's surface at rest, folded into the socket, only goes back to where it was
      const need = Math.min(before, vertices.length === 1 ? CLEARANCE : CLEARANCE_BETWEEN) - after;
      if (need > 0) for (const v of vertices) needs.set(v, Math.max(needs.get(v) ?? 0, need));
    }
    const near = Array.from(delta.vertices.keys()).flatMap((k) => {
      const v = delta!.vertices[k]!;
      const out = [0, 1, 2].map((c) => moved[3 * v + c]! - eye.centre[c]!);
      const l = Math.hypot(...out);
      return l > REACH * eye.radius ? [] : [{ k, out: out.map((x) => x / l), need: needs.get(v) ?? 0 }];
    });
    const pressed = near.filter((n) => n.need > 0);
    if (!pressed.length) continue;
    const deltas = delta.deltas.slice();
    for (const { k, out } of near) {
      let push = 0;
      for (const p of pressed) {
        const angle = Math.acos(Math.min(1, out[0]! * p.out[0]! + out[1]! * p.out[1]! + out[2]! * p.out[2]!));
        push = Math.max(push, p.need * fadeOut((angle - HOLDS) / HOLDS));
      }
      for (let c = 0; c < 3; c++) deltas[3 * k + c]! += push * out[c]!;
    }
    delta = { ...delta, deltas };
  }
  const made: ShapeDelta = delta;
  return {
    ...character,
    shapes: character.shapes.map((s) =>
      s === shape ? { ...s, deltas: s.deltas.map((d) => (d.part === index ? made : d)) } : s,
    ),
  };
}

/** Steps in which a part's own movement is taken back. */
const STEPS = 50;

/**
 * Takes back as much of a part's own movement in a shape as makes it stand out of the skin. @param limit what may stand
 * out, mm.
 */
export function drawBack(character: Character, shapeName: string, partName: string, limit: number): Character {
  const shape = neededShape(character, shapeName);
  const { index } = partNamed(character, partName);
  const depth = piercingDepth(character, index);
  for (let k = STEPS - 1; k >= 0; k--) {
    const scaled = {
      ...shape,
      deltas: shape.deltas.flatMap((d) =>
        d.part !== index ? [d] : k === 0 ? [] : [{ ...d, deltas: d.deltas.map((x) => (x * k) / STEPS) }],
      ),
    };
    if (1000 * depth(scaled) <= limit)
      return { ...character, shapes: character.shapes.map((s) => (s === shape ? scaled : s)) };
  }
  throw new UserError(
    `${partName} stands out of the skin even where ${shapeName} does not move it.`,
    "mend",
    "The skin closes in on it: correct the skin's movement.",
  );
}
