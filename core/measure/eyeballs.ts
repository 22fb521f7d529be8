import type { Character } from "../model/character";
import { fitSphere, type Sphere } from "./fitSphere";

export interface Eyeball extends Sphere {
  readonly part: number;
  readonly side: "left" | "right";
}

/** Share of the radius by which the points of an eyeball may miss their sphere. */
const ROUND = 0.05;

/** The two eyeballs: the largest round parts of kind eye on either side of x = 0; fewer when there are fewer. */
export function eyeballsOf(character: Character): Eyeball[] {
  const round = character.parts.flatMap((part, p): Eyeball[] => {
    if (part.kind !== "eye") return [];
    const sphere = fitSphere(part.positions);
    if (!sphere || sphere.residual > ROUND * sphere.radius || Math.abs(sphere.centre[0]) < 0.1 * sphere.radius)
      return [];
    return [{ ...sphere, part: p, side: sphere.centre[0] > 0 ? "left" : "right" }];
  });
  return (["left", "right"] as const).flatMap((side) =>
    round
      .filter((e) => e.side === side)
      .sort((a, b) => b.radius - a.radius || a.part - b.part)
      .slice(0, 1),
  );
}
