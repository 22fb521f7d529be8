import { amount, check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { length, sub } from "../../math/vec3";
import { finding } from "../finding";
import { statureOf } from "../../measure/stature";

/**
 * Segment lengths over stature: Drillis & Contini 1966, as printed in Winter, Biomechanics and Motor Control of Human
 * Movement (from memory).
 */
const SEGMENTS = [
  { what: "upper arm", from: "UpperArm", to: "LowerArm", share: 0.186 },
  { what: "forearm", from: "LowerArm", to: "Hand", share: 0.146 },
  { what: "thigh", from: "UpperLeg", to: "LowerLeg", share: 0.245 },
  { what: "shank", from: "LowerLeg", to: "Foot", share: 0.246 },
] as const;

/** Lengths of the limbs over stature against the textbook's; a stylised figure or a child may well differ. */
export const scaleProportion = check({
  id: "scale.proportion",
  title: "Proportions of the limbs",
  station: "intake",
  unit: "%",
  measures: "upper arm, forearm, thigh and shank over stature",
  severity: "note",
  limits: { "scale.proportion": amount(25) },
  source: "Drillis & Contini 1966, in Winter (from memory)",
  waitsFor: "stance and size",
  run: (character, { humanoid, limits }) => {
    const limit = limits["scale.proportion"];
    const { skeleton } = character;
    const stature = statureOf(character);
    if (!skeleton || !humanoid || limit === null || stature <= 0) return [];
    const world = worldMatrices(skeleton, {});
    return (["left", "right"] as const).flatMap((side) =>
      SEGMENTS.flatMap(({ what, from, to, share }) => {
        const a = humanoid.jointOfBone.get(`${side}${from}`);
        const b = humanoid.jointOfBone.get(`${side}${to}`);
        if (a === undefined || b === undefined) return [];
        const off =
          100 * (length(sub(translationOf(world, 16 * a), translationOf(world, 16 * b))) / stature / share - 1);
        if (Math.abs(off) <= limit) return [];
        return [
          finding({
            check: "scale.proportion",
            severity: "note",
            joint: skeleton.joints[a]!.name,
            value: off,
            unit: "%",
            limit,
            message:
              `The ${side} ${what} is ${Math.abs(off).toFixed(0)} % ${off > 0 ? "longer" : "shorter"} ` +
              "for the stature than an average adult's; fine if it is meant.",
          }),
        ];
      }),
    );
  },
});
