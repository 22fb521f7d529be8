import { betweenDirections, rotate, twistDegrees } from "../../math/quat";
import { degrees, dot, type Quat, type Vec3 } from "../../math/vec3";
import type { TermKind } from "./termKind";
import { smoothStep } from "../../math/smoothStep";

/** By how near a joint's bone points to a direction: full within one cone, nothing beyond another. */
export interface DirectionTerm {
  readonly kind: "direction";
  readonly joint: string;
  /** The way the bone points, unit vector in the joint's own frame. */
  readonly along: Vec3;
  /** Where it has to point, unit vector in the joint's frame as it is at rest. */
  readonly towards: Vec3;
  readonly fullDegrees: number;
  readonly noneDegrees: number;
  /** Turn about the bone itself within which it counts, and over how many degrees it fades beyond; absent: any. */
  readonly twist?: { readonly fromDegrees: number; readonly toDegrees: number; readonly fadeDegrees: number };
}

/** Angle between where a bone points in a pose and where a direction term wants it, degrees 0..180. */
export function degreesOff({ along, towards }: Pick<DirectionTerm, "along" | "towards">, turn: Quat): number {
  const now = rotate(turn, along);
  const c = dot(now, towards);
  const s = Math.hypot(
    now[1] * towards[2] - now[2] * towards[1],
    now[2] * towards[0] - now[0] * towards[2],
    now[0] * towards[1] - now[1] * towards[0],
  );
  return degrees(Math.atan2(s, c));
}

/** 1 within a cone about the direction, falling smoothly to 0 at a wider one; and the same for the twist's limits. */
function valueAt(term: DirectionTerm, turn: Quat): number {
  const off = degreesOff(term, turn);
  const span = term.noneDegrees - term.fullDegrees;
  const near = span > 1e-9 ? smoothStep((term.noneDegrees - off) / span) : Number(off <= term.fullDegrees);
  if (!term.twist || near === 0) return near;
  const { fromDegrees, toDegrees, fadeDegrees } = term.twist;
  const twist = twistDegrees(turn, term.along);
  const beyond = Math.max(fromDegrees - twist, twist - toDegrees, 0);
  if (beyond === 0) return near;
  return fadeDegrees > 1e-9 ? near * smoothStep(1 - beyond / fadeDegrees) : 0;
}

export const directionTerm: TermKind<DirectionTerm> = {
  reads: ({ joint }) => ({ joint }),
  numbers: ({ along, towards, fullDegrees, noneDegrees, twist }) => [
    ...[...along, ...towards, fullDegrees, noneDegrees],
    ...(twist ? [twist.fromDegrees, twist.toDegrees, twist.fadeDegrees] : []),
  ],
  ready:
    (term) =>
    ({ turn }) =>
      valueAt(term, turn(term.joint)),
  atMost: ({ joint, along, towards }) => ({ joint, turn: betweenDirections(along, towards) }),
  changed: (term, of) => {
    const { joint, along, towards } = of(term.joint);
    return { ...term, joint, along: along(term.along), towards: towards(term.towards) };
  },
  renamed: (term) => term,
  schema: ({ z, joint, unit, degrees }) =>
    z
      .object({
        kind: z.literal("direction"),
        joint,
        along: unit,
        towards: unit,
        fullDegrees: z.number().min(0).max(180),
        noneDegrees: z.number().min(0).max(180),
        twist: z
          .object({ fromDegrees: degrees, toDegrees: degrees, fadeDegrees: z.number().min(0).max(180) })
          .refine((t) => t.fromDegrees <= t.toDegrees, "from not above to")
          .optional(),
      })
      .refine((t) => t.fullDegrees <= t.noneDegrees, "full within none"),
};
