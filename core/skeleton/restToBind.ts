import { worldMatrices } from "../evaluate/poseSkeleton";
import { composeTRS, decomposeTRS, invertAffine, multiplyMat4 } from "../math/mat4";
import { NO_JOINT, type Character, type Joint } from "../model/character";
import { UserError } from "../model/userError";

/**
 * Sets every joint that a skin lists back to where it was bound, so that the skeleton stands in the pose of the mesh.
 * Binds, mesh and clips stay: keys of a clip say where joints are, not how far they have moved from rest. Joints
 * outside the skin keep their place under the joint they hang on.
 * @throws UserError when a bind cannot be inverted.
 */
export function restToBind(character: Character): Character {
  const { skeleton } = character;
  if (!skeleton) throw new UserError("The character has no skeleton.", "rest pose", "");
  const rest = worldMatrices(skeleton, {});
  const inverse = new Float64Array(16);
  const m = new Float64Array(16);
  const joints = skeleton.joints.map((joint, j): Joint => {
    if (!skeleton.inSkin[j]) {
      if (joint.parent !== NO_JOINT) {
        composeTRS(m, 0, joint.translation, joint.rotation, joint.scale);
        multiplyMat4(rest, 16 * j, rest, 16 * joint.parent, m, 0);
      }
      return joint;
    }
    if (!invertAffine(rest, 16 * j, skeleton.inverseBinds, 16 * j))
      throw new UserError(
        `The bind of ${joint.name} cannot be inverted.`,
        "rest pose",
        "Bind the character again where it was made.",
      );
    if (joint.parent === NO_JOINT) m.set(rest.subarray(16 * j, 16 * j + 16));
    else {
      invertAffine(inverse, 0, rest, 16 * joint.parent);
      multiplyMat4(m, 0, inverse, 0, rest, 16 * j);
    }
    const { t, q, s } = decomposeTRS(m, 0);
    return { ...joint, translation: t, rotation: q, scale: s };
  });
  return { ...character, skeleton: { ...skeleton, joints } };
}
