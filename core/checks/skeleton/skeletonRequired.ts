import { check } from "../check";
import { boneLabel, REQUIRED_BONES } from "../../names/humanoidBones";
import { mapFaults } from "../../skeleton/mapFaults";
import { finding } from "../finding";

/** Required humanoid joints that the map did not find, and joints that it takes for a bone they do not hang as. */
export const skeletonRequired = check({
  id: "skeleton.required",
  title: "Required humanoid joints",
  station: "skeleton",
  unit: "joints",
  measures:
    "required humanoid bones without a joint; a warning for bones whose joint does not hang on that of the bone above",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "VRM 1.0 specification, humanoid.md",
  run: (character, { humanoid }) => {
    if (!character.skeleton)
      return [
        finding({
          check: "skeleton.required",
          severity: "error",
          value: REQUIRED_BONES.length,
          unit: "joints",
          limit: 0,
          message: "The delivery has no skeleton; joints cannot be bent or driven. Ask for the skinned character.",
        }),
      ];
    const against = humanoid
      ? mapFaults(character.skeleton, humanoid).map(({ joint, message }) =>
          finding({
            check: "skeleton.required",
            severity: "warn",
            joint,
            value: 1,
            unit: "joints",
            limit: 0,
            message: `${message[0]!.toUpperCase()}${message.slice(1)}`,
          }),
        )
      : [];
    const missing = (humanoid?.missingRequired ?? []).map((bone) =>
      finding({
        check: "skeleton.required",
        severity: "error",
        joint: bone,
        value: 1,
        unit: "joints",
        limit: 0,
        message: `No joint is mapped to ${boneLabel(bone)}; choose one in the joint map.`,
      }),
    );
    return [...missing, ...against];
  },
});
