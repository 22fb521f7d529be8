import { worldMatrices } from "../../deform/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { length, sub } from "../../math/vec3";
import { eyeballsOf } from "../../measure/eyeballs";
import { finding, type Check } from "../finding";

/** Eye joints against the centre of the sphere fitted to the eyeball. */
export const skeletonEyeCentre: Check = {
  id: "skeleton.eye-centre",
  title: "Eye joints in the eyeballs' centres",
  unit: "mm",
  source: "our own choice: 1 mm",
  run: (character, { humanoid, profile }) => {
    const limit = profile.limits["skeleton.eye-centre"];
    const { skeleton } = character;
    if (!skeleton || !humanoid || limit === null) return [];
    const world = worldMatrices(skeleton, {});
    return eyeballsOf(character).flatMap((eye) => {
      const joint = humanoid.jointOfBone.get(`${eye.side}Eye`);
      if (joint === undefined) return [];
      const mm = 1000 * length(sub(translationOf(world, 16 * joint), eye.centre));
      if (mm <= limit) return [];
      return [finding({ check: "skeleton.eye-centre", severity: "error", part: character.parts[eye.part]!.name, joint: skeleton.joints[joint]!.name, value: mm, unit: "mm", limit, message: `${skeleton.joints[joint]!.name} stands ${mm.toFixed(1)} mm from the centre of ${character.parts[eye.part]!.name}; turning it pushes the eye through its lids. Move the joint.` })];
    });
  },
};
