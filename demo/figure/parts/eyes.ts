import { radians, type Vec3 } from "../../../core/math/vec3";
import { smoothstep } from "../../modelling/blend";
import { EYE_CENTRE, EYE_RADIUS } from "../head/headForm";
import { colour, mixColour } from "./colour";
import { eyeDisc } from "../textures";
import { capEnds, newPart, skinRings, type PartMesh, type PartSide } from "./partMesh";

const SPOKES = 32;
/** Rings of the eyeball by angle from its axis, degrees; pupil to 8.65, iris to 28. */
const RINGS = [0.6, 4, 8.6, 8.7, 14, 20, 26, 28.3, 30, 36, 46, 60, 76, 95, 120, 150, 179];
const PUPIL_EDGE = 8.65;
const IRIS_EDGE = 26;
/** The cornea stands out of the ball, most at the middle. */
export const corneaBulge = (degrees: number): number => 0.55 * Math.max(0, 1 - (degrees / 33) ** 2);
/** Outward turn of the eyes at rest, degrees. */
const REST_TURN = 1.8;
const [PUPIL, WHITE, LIMBUS, IRIS, IRIS_DARK, IRIS_WARM, VEINED] = [
  colour(12, 11, 12),
  colour(232, 226, 220),
  colour(36, 40, 38),
  colour(92, 110, 84),
  colour(58, 74, 66),
  colour(120, 112, 70),
  colour(215, 160, 150),
];

/** Where the rings lie when the pupil's edge has moved to an angle: the iris is stretched between pupil and white. */
const ringAngle = (degrees: number, pupil: number): number =>
  degrees < PUPIL_EDGE
    ? (degrees * pupil) / PUPIL_EDGE
    : degrees < IRIS_EDGE
      ? pupil + ((degrees - PUPIL_EDGE) * (IRIS_EDGE - pupil)) / (IRIS_EDGE - PUPIL_EDGE)
      : degrees;

/** Points of an eyeball. @param pupil angle of the pupil's edge, degrees. */
export function eyeballPoints(side: PartSide, pupil = PUPIL_EDGE): Vec3[] {
  const [cx, cy, cz] = [EYE_CENTRE[0] * side, EYE_CENTRE[1], EYE_CENTRE[2]];
  const turn = -radians(REST_TURN) * side;
  return RINGS.flatMap((degrees) => {
    const angle = ringAngle(degrees, pupil);
    const r = EYE_RADIUS + corneaBulge(angle);
    const off = r * Math.sin(radians(angle));
    const z = r * Math.cos(radians(angle));
    return Array.from({ length: SPOKES }, (_, i): Vec3 => {
      const a = (2 * Math.PI * i) / SPOKES;
      const x = off * Math.cos(a);
      return [
        cx + x * Math.cos(turn) + z * Math.sin(turn),
        cy + off * Math.sin(a),
        cz - x * Math.sin(turn) + z * Math.cos(turn),
      ];
    });
  });
}

function eyeColour(degrees: number, spoke: number): Vec3 {
  const height = Math.sin((2 * Math.PI * spoke) / SPOKES);
  let c: Vec3;
  if (degrees < PUPIL_EDGE) return PUPIL;
  if (degrees < 27) {
    const streaked = mixColour(
      mixColour(IRIS_WARM, IRIS, smoothstep(9, 18, degrees)),
      IRIS_DARK,
      0.5 + 0.5 * Math.sin(spoke * 2.7) * Math.cos(spoke * 1.3),
    );
    c = mixColour(streaked, IRIS, 0.5);
    if (degrees < 9) c = mixColour(c, PUPIL, 0.1);
  } else if (degrees < 29) c = LIMBUS;
  else c = mixColour(WHITE, VEINED, smoothstep(40, 85, degrees) * 0.5);
  // the lashes' shade
  return degrees >= 14 && degrees < 29 && height > 0.3 ? mixColour(c, PUPIL, 0.35 * height) : c;
}

export function eyeball(side: PartSide): PartMesh {
  const part = newPart();
  eyeballPoints(side).forEach((p, v) => part.add(p, eyeColour(RINGS[Math.floor(v / SPOKES)]!, v % SPOKES)));
  skinRings(part, 0, RINGS.length, SPOKES);
  capEnds(part, 0, RINGS.length, SPOKES);
  return part;
}

/** Texture coordinates of an eyeball: a disc seen along its axis, the iris largest. */
export const eyeCoordinates = (): Float32Array =>
  Float32Array.from(
    RINGS.flatMap((angle) =>
      Array.from({ length: SPOKES }, (_, i) => eyeDisc(angle, (2 * Math.PI * i) / SPOKES)).flat(),
    ),
  );

/** The tear duct's pink mound in the inner corner. */
export function tearDuct(side: PartSide): PartMesh {
  const [spokes, rings] = [10, 6];
  const [cx, cy, cz] = [(EYE_CENTRE[0] - 12.6) * side, EYE_CENTRE[1] - 1.6, EYE_CENTRE[2] + 4.9];
  const part = newPart();
  for (let r = 0; r < rings; r++)
    for (let i = 0; i < spokes; i++) {
      const t = 0.12 + ((Math.PI - 0.24) * r) / (rings - 1);
      const a = (2 * Math.PI * i) / spokes;
      part.add(
        [cx + 1.9 * Math.sin(t) * Math.cos(a), cy + 1.5 * Math.sin(t) * Math.sin(a), cz + 2 * Math.cos(t)],
        colour(214, 150, 138),
      );
    }
  skinRings(part, 0, rings, spokes);
  capEnds(part, 0, rings, spokes);
  return part;
}
