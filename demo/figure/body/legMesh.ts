import { add, lerp, normalize, radians, scale, type Vec3 } from "../../../core/math/vec3";
import { bell, mix, smoothstep } from "../../modelling/blend";
import { addScaled, castRay, surfaceFrom } from "../../modelling/fields";
import type { Quad, QuadMesh } from "../../modelling/quadMesh";
import { SPOKES } from "./armMesh";
import { bodyForm } from "./bodyForm";
import type { BodyTag } from "./bodyTags";
import { FOOT, FOOT_ACROSS, legMiddle, onFoot } from "./legForm";
import { COLUMNS } from "./torsoMesh";

const CROTCH_STEPS = 4;
/** Heights of the leg's rings; the uppermost lie aslant: front, outside, back, inside. Metres. */
const RINGS: readonly (readonly number[])[] = [
  [0.78, 0.838, 0.782, 0.752],
  [0.754, 0.806, 0.756, 0.735],
  [0.728, 0.772, 0.73, 0.715],
  [0.7, 0.735, 0.702, 0.692],
  [0.67, 0.695, 0.672, 0.665],
  [0.64, 0.655, 0.641, 0.637],
  [0.61, 0.618, 0.61, 0.608],
  ...[
    0.582, 0.557, 0.535, 0.516, 0.499, 0.484, 0.469, 0.454, 0.437, 0.416, 0.39, 0.36, 0.328, 0.294, 0.26, 0.226, 0.193,
    0.163, 0.138, 0.117,
  ].map((y) => [y]),
];
/** Knee, where the rings fan so that they come together behind. */
const KNEE_HEIGHT = 0.478;
/** Rings of the foot: forward of the ankle, height of the middle, tilt in degrees, how far the toes' slant shows. */
const FOOT_RINGS: readonly (readonly [forward: number, height: number, tilt: number, slant: number])[] = [
  [0, 0.1, 4, 0],
  [0.001, 0.084, 16, 0],
  [0.004, 0.068, 31, 0],
  [0.01, 0.056, 46, 0],
  [0.019, 0.047, 60, 0],
  [0.033, 0.04, 74, 0],
  [0.051, 0.035, 85, 0],
  [0.071, 0.03, 90, 0],
  [0.09, 0.026, 90, 0.1],
  [0.108, 0.022, 90, 0.35],
  [0.123, 0.018, 90, 0.65],
  [0.137, 0.015, 90, 0.9],
  [0.15, 0.0125, 90, 1],
  [0.163, 0.0115, 90, 1],
  [0.175, 0.0108, 90, 1],
  [0.184, 0.0102, 90, 1],
];
/** Across the toes, from the great toe's side: middle of each column, and how far behind the great toe it ends. */
const TOE_COLUMNS = [-0.033, -0.025, -0.0125, -0.004, 0.004, 0.0122, 0.0195, 0.0335, 0.0415];
const TOE_SLANT = [0, 0, -0.001, -0.001, -0.004, -0.0085, -0.0135, -0.026, -0.034];
const spokeAngle = (spoke: number): number => radians(18 * spoke - 54);

/** Crotch, leg and foot, grown from the trunk's lowest row. @returns the ring where the leg begins. */
export function buildLeg(mesh: QuadMesh<BodyTag>, bottom: readonly number[]): number[] {
  const base = buildCrotch(mesh, bottom);
  const ankle = RINGS.reduce<readonly number[]>((above, heights, ring) => legRing(mesh, above, heights, ring), base);
  const toes = FOOT_RINGS.reduce<readonly number[]>((above, spec, ring) => footRing(mesh, above, spec, ring), ankle);
  capToes(mesh, toes);
  return base;
}

/** A strip between the legs: its middle line and its edge from the back to the front of the trunk's lowest row. */
function buildCrotch(mesh: QuadMesh<BodyTag>, bottom: readonly number[]): number[] {
  const [front, back] = [mesh.points[bottom[0]!]!, mesh.points[bottom[COLUMNS]!]!];
  const middle = [bottom[COLUMNS]!];
  const edge = [bottom[COLUMNS - 1]!];
  for (let k = 1; k < CROTCH_STEPS; k++) {
    const t = k / CROTCH_STEPS;
    const y = mix(back[1], front[1], t) - 0.028 * Math.sin(Math.PI * t);
    const z = mix(back[2], front[2], t);
    middle.push(mesh.add([0, y, z], { region: "torso", row: -1, column: 0, crotch: true, form: bodyForm, pin: 0 }));
    edge.push(
      mesh.add([0.022, y - 0.004, z], { region: "torso", row: -1, column: 1, crotch: true, form: bodyForm, pin: 0 }),
    );
  }
  middle.push(bottom[0]!);
  edge.push(bottom[1]!);
  for (let k = 0; k < CROTCH_STEPS; k++) mesh.quads.push([edge[k]!, edge[k + 1]!, middle[k + 1]!, middle[k]!]);
  return [...bottom.slice(1, COLUMNS), ...edge.slice(1, CROTCH_STEPS)];
}

function legRing(
  mesh: QuadMesh<BodyTag>,
  above: readonly number[],
  heights: readonly number[],
  ring: number,
): number[] {
  const ids = Array.from({ length: SPOKES }, (_, spoke) => {
    const [c, s] = [Math.cos(spokeAngle(spoke)), Math.sin(spokeAngle(spoke))];
    const level =
      heights.length > 1
        ? (c > 0 ? heights[0]! : heights[2]!) * c * c + (s > 0 ? heights[1]! : heights[3]!) * s * s
        : heights[0]!;
    const fan = (level - KNEE_HEIGHT) * 0.3 * bell(level - KNEE_HEIGHT, 0.06);
    const [x, , z] = legMiddle(level);
    const p = surfaceFrom(bodyForm, [x, level + fan * c, z], [s, 0, c], 0.16);
    return mesh.add([Math.max(0.004, p[0]), p[1], p[2]], {
      region: "leg",
      ring,
      spoke,
      form: bodyForm,
      pin: ring < 4 ? (ring / 4) * 0.7 : ring > 24 ? 0.4 : 1,
    });
  });
  mesh.bridge(above, ids, { flip: true });
  return ids;
}

/** Ring of the foot: a circle round the leg's axis behind, a flat oval over sole and toes in front. */
function footRing(
  mesh: QuadMesh<BodyTag>,
  above: readonly number[],
  [forward, height, tilt, slant]: (typeof FOOT_RINGS)[number],
  ring: number,
): number[] {
  const flat = smoothstep(0.05, 0.12, forward);
  const toed = smoothstep(0.09, 0.15, forward);
  const ahead: Vec3 = [FOOT[0] * Math.cos(radians(tilt)), Math.sin(radians(tilt)), FOOT[2] * Math.cos(radians(tilt))];
  const ids = Array.from({ length: SPOKES }, (_, spoke) => {
    // 0..8 over the instep, 9 outer side, 10..18 under the sole, 19 inner side
    const place = (spoke + 1) % SPOKES;
    const across = acrossFoot(place);
    const column = Math.round((across + 1) * 4);
    const from = onFoot(
      forward + slant * TOE_SLANT[column]!,
      flat * mix(0.03 * across - 0.001, TOE_COLUMNS[column]!, toed),
      height,
    );
    const round = add(scale(ahead, Math.cos(spokeAngle(spoke))), scale(FOOT_ACROSS, Math.sin(spokeAngle(spoke))));
    const lean = across * (Math.abs(across) > 0.9 ? 0.75 : 0.25 * (1 - toed));
    const oval =
      place === 9
        ? FOOT_ACROSS
        : place === 19
          ? scale(FOOT_ACROSS, -1)
          : normalize(add([0, place <= 8 ? 1 : -1, 0], scale(FOOT_ACROSS, lean)));
    const p = castRay(bodyForm, from, normalize(lerp(round, oval, flat)), 0.09) ?? from;
    return mesh.add(p, { region: "foot", ring, spoke, form: bodyForm, pin: ring < 8 ? 0.15 : 0.9 });
  });
  mesh.bridge(above, ids, { flip: true });
  return ids;
}

/** Closes the toes: one row of vertices between the upper and lower side of the last ring. */
function capToes(mesh: QuadMesh<BodyTag>, ring: readonly number[]): void {
  const at = (place: number): number => ring[(place + SPOKES - 1) % SPOKES]!;
  const middle = [at(19)];
  for (let q = 1; q < 8; q++) {
    const from = lerp(mesh.points[at(q)]!, mesh.points[at(18 - q)]!, 0.5);
    middle.push(
      mesh.add(castRay(bodyForm, from, FOOT, 0.06) ?? addScaled(from, FOOT, 0.03), {
        region: "foot",
        ring: FOOT_RINGS.length,
        spoke: q,
        form: bodyForm,
        pin: 0.9,
      }),
    );
  }
  middle.push(at(9));
  for (let q = 0; q < 8; q++) {
    const upper: Quad = [middle[q]!, middle[q + 1]!, at(q + 1), at(q)];
    const lower: Quad = [at(18 - q), at(17 - q), middle[q + 1]!, middle[q]!];
    mesh.quads.push(upper, lower);
  }
}

/** From the inner side, -1, to the outer, 1: over the instep and back under the sole. */
function acrossFoot(place: number): number {
  if (place <= 8) return place / 4 - 1;
  if (place === 9) return 1;
  return place <= 18 ? 1 - (place - 10) / 4 : -1;
}
