import { add, radians, scale, type Vec3 } from "../../../core/math/vec3";
import { addScaled, surfaceFrom } from "../../modelling/fields";
import type { QuadMesh } from "../../modelling/quadMesh";
import { ARM, armForward, SHOULDER } from "./armForm";
import { bodyForm } from "./bodyForm";
import type { BodyTag } from "./bodyTags";
import { palmForm } from "./handForm";

/** Vertices of an arm or leg ring. */
export const SPOKES = 20;
/**
 * Rings of the arm: distance from the shoulder, tilt in degrees (the first turn from the armhole's plane into the
 * arm's).
 */
const RINGS: readonly (readonly [along: number, tilt: number])[] = [
  [0.028, -6],
  [0.05, -16],
  [0.072, -27],
  [0.094, -36],
  [0.118, -40],
  [0.146, -40],
  [0.176, -40],
  [0.206, -40],
  [0.235, -40],
  [0.26, -40],
  [0.28, -40],
  [0.296, -40],
  [0.3085, -40],
  [0.321, -40],
  [0.335, -40],
  [0.352, -40],
  [0.374, -40],
  [0.4, -40],
  [0.428, -40],
  [0.456, -40],
  [0.483, -40],
  [0.508, -40],
  [0.529, -40],
  [0.545, -40],
];
/** From here on the arm is cast on the palm's form, which has the wrist in it. */
const WRIST_FROM = 0.45;

/** Rings from the armhole to the wrist. @returns the last ring. */
export function buildArm(mesh: QuadMesh<BodyTag>, armhole: readonly number[]): readonly number[] {
  let previous = armhole;
  RINGS.forEach(([along, tilt], i) => {
    const up: Vec3 = [-Math.sin(radians(tilt)), Math.cos(radians(tilt)), 0];
    const inward = Math.max(0, 4 - i);
    const middle = addScaled(addScaled(SHOULDER, ARM, along), [-0.004 * inward, -0.002 * inward, armForward(along)], 1);
    const form = along < WRIST_FROM ? bodyForm : palmForm;
    const ring = Array.from({ length: SPOKES }, (_, spoke) => {
      const angle = radians(18 * spoke);
      const out = add(scale(up, Math.cos(angle)), [0, 0, Math.sin(angle)]);
      return mesh.add(surfaceFrom(form, middle, out, 0.075), {
        region: "arm",
        along,
        spoke,
        form,
        pin: i < 5 ? (i / 5) * 0.8 : 1,
      });
    });
    mesh.bridge(previous, ring);
    previous = ring;
  });
  return previous;
}
