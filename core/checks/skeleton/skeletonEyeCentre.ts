import { centreEye } from "../../edits/mend/mendSkeleton";
import { refitEye } from "../../edits/skeleton/refitJoints";
import { amount, check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { add, length, sub } from "../../math/vec3";
import { eyeMoves, eyesOf } from "../../measure/eyeMoves";
import { isDriven, type Character } from "../../model/character";
import type { HumanoidMap } from "../../skeleton/humanoidMap";
import { finding, type Finding } from "../finding";

/**
 * Eye joints of shapes that take an eyeball along: the joint goes by the shape's own offset, the eyeball by its
 * vertices. One finding a shape and eye, counted from where both stand at rest.
 */
function underShapes(character: Character, humanoid: HumanoidMap, limit: number, world: Float64Array): Finding[] {
  const { joints } = character.skeleton!;
  return character.shapes.flatMap((shape) =>
    (isDriven(character, shape.name) ? [] : eyeMoves(character, shape)).flatMap(({ eye, move }): Finding[] => {
      const joint = humanoid.jointOfBone.get(`${eye.side}Eye`);
      if (joint === undefined) return [];
      const { name } = joints[joint]!;
      const offset = shape.jointOffsets?.find((o) => o.joint === name)?.offset ?? [0, 0, 0];
      const mm = 1000 * length(sub(add(translationOf(world, 16 * joint), offset), add(eye.centre, move)));
      const already = 1000 * length(sub(translationOf(world, 16 * joint), eye.centre));
      const part = character.parts[eye.part]!.name;
      return mm > limit && mm > already + limit / 2
        ? [
            finding({
              check: "skeleton.eye-centre",
              severity: "error",
              part,
              joint: name,
              shape: shape.name,
              value: mm,
              unit: "mm",
              limit,
              message:
                `${shape.label} takes ${part} along and leaves ${name} ` +
                `${mm.toFixed(1)} mm from its centre; refit the joint to it.`,
            }),
          ]
        : [];
    }),
  );
}

/**
 * Eye joints against the centre of the sphere fitted to the eyeball, at rest and under every shape that takes the
 * eyeball along.
 */
export const skeletonEyeCentre = check({
  id: "skeleton.eye-centre",
  title: "Eye joints in the eyeballs' centres",
  station: "skeleton",
  unit: "mm",
  measures:
    "eye joints against the fitted eyeballs' centres, at rest and under every shape that takes an eyeball along",
  severity: "error",
  limits: { "skeleton.eye-centre": amount(1) },
  source: "our own choice: 1 mm",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      f.shape
        ? `Sends ${f.joint} along with ${f.part} in ${f.shape}.`
        : `Moves ${f.joint} into the centre of ${f.part}.`,
    apply: (c, f) => (f.shape ? refitEye(c, f.shape, f.joint!) : centreEye(c, f.joint!, f.part!)),
  },
  run: (character, { humanoid, limits }) => {
    const limit = limits["skeleton.eye-centre"];
    const { skeleton } = character;
    if (!skeleton || !humanoid || limit === null) return [];
    const world = worldMatrices(skeleton, {});
    const atRest = eyesOf(character).flatMap((eye) => {
      const joint = humanoid.jointOfBone.get(`${eye.side}Eye`);
      if (joint === undefined) return [];
      const mm = 1000 * length(sub(translationOf(world, 16 * joint), eye.centre));
      if (mm <= limit) return [];
      return [
        finding({
          check: "skeleton.eye-centre",
          severity: "error",
          part: character.parts[eye.part]!.name,
          joint: skeleton.joints[joint]!.name,
          value: mm,
          unit: "mm",
          limit,
          message:
            `${skeleton.joints[joint]!.name} stands ${mm.toFixed(1)} mm from the centre of ` +
            `${character.parts[eye.part]!.name}; turning it pushes the eye through its lids. Move the joint.`,
        }),
      ];
    });
    return [...atRest, ...underShapes(character, humanoid, limit, world)];
  },
});
