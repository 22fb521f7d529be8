import { fromAxisAngle, twistDegrees } from "../../math/quat";
import type { Vec3 } from "../../math/vec3";
import { monotoneSlopes, weightOnPoints, type AnglePoint } from "./anglePoints";
import type { TermKind } from "./termKind";

/** By the turn of a joint about one axis: a curve through any number of points, level beyond its ends. */
export interface AngleTerm {
  readonly kind: "angle";
  readonly joint: string;
  /** Unit vector in the joint's own frame. */
  readonly axis: Vec3;
  /** At least two, angles rising. */
  readonly points: readonly AnglePoint[];
  /** smooth: monotone cubic between points, so that nothing rises above them; straight: lines. */
  readonly between: "smooth" | "straight";
}

export const angleTerm: TermKind<AngleTerm> = {
  reads: ({ joint }) => ({ joint }),
  numbers: ({ axis, points }) => [...axis, ...points.flatMap((p) => [p.degrees, p.weight])],
  ready: ({ joint, axis, points, between }) => {
    const slopes = between === "smooth" ? monotoneSlopes(points) : null;
    return ({ turn }) => weightOnPoints(points, slopes, twistDegrees(turn(joint), axis));
  },
  atMost: ({ joint, axis, points }) => {
    const { degrees } = points.reduce((most, p) => (p.weight > most.weight ? p : most));
    return { joint, turn: fromAxisAngle(axis, degrees) };
  },
  changed: (term, of) => {
    const { joint, axis, already } = of(term.joint);
    const less = already(term.axis);
    return {
      ...term,
      joint,
      axis: axis(term.axis),
      points: less === 0 ? term.points : term.points.map((p) => ({ ...p, degrees: p.degrees - less })),
    };
  },
  renamed: (term) => term,
  schema: ({ z, joint, unit, degrees }) =>
    z.object({
      kind: z.literal("angle"),
      joint,
      axis: unit,
      points: z
        .array(z.object({ degrees, weight: z.number().min(0).max(2) }))
        .min(2)
        .max(20)
        .refine((all) => all.every((p, i) => i === 0 || p.degrees > all[i - 1]!.degrees), "angles that rise"),
      between: z.enum(["smooth", "straight"]),
    }),
};
