import type { Skeleton } from "../model/character";
import { boneLabel, mirrorBone, sideOfBone } from "../names/humanoidBones";
import { hangsUnder } from "./hangsUnder";
import type { HumanoidMap } from "./humanoidMap";

export interface MapFault {
  readonly bone: string;
  readonly joint: string;
  readonly message: string;
}

/**
 * What each bone hangs on (VRM 1.0 specification, humanoid.md, "Parent bone"), without the side; a bone that is not
 * mapped is passed over.
 */
const ABOVE: Readonly<Record<string, string>> = {
  spine: "hips",
  chest: "spine",
  upperChest: "chest",
  neck: "upperChest",
  head: "neck",
  jaw: "head",
  Eye: "head",
  UpperLeg: "hips",
  LowerLeg: "UpperLeg",
  Foot: "LowerLeg",
  Toes: "Foot",
  Shoulder: "upperChest",
  UpperArm: "Shoulder",
  LowerArm: "UpperArm",
  Hand: "LowerArm",
  ThumbMetacarpal: "Hand",
  ThumbProximal: "ThumbMetacarpal",
  ThumbDistal: "ThumbProximal",
  ...Object.fromEntries(
    ["Index", "Middle", "Ring", "Little"].flatMap((f) => [
      [`${f}Proximal`, "Hand"],
      [`${f}Intermediate`, `${f}Proximal`],
      [`${f}Distal`, `${f}Intermediate`],
    ]),
  ),
};

/** Bones whose joint does not hang on the joint of the bone above it: the map and the tree contradict each other. */
export function mapFaults(skeleton: Skeleton, map: HumanoidMap): MapFault[] {
  return [...map.jointOfBone].flatMap(([bone, j]): MapFault[] => {
    const side = sideOfBone(bone) ?? "";
    let above: string | undefined = ABOVE[bone.slice(side.length)];
    while (above && !map.jointOfBone.has(withSide(side, above))) above = ABOVE[above];
    if (!above) return [];
    const top = withSide(side, above);
    const k = map.jointOfBone.get(top)!;
    if (hangsUnder(skeleton, j, k)) return [];
    // on the other side's limb: the names are swapped, and that is told by itself
    const across = map.jointOfBone.get(mirrorBone(top));
    if (across !== undefined && across !== k && hangsUnder(skeleton, j, across)) return [];
    const names = [skeleton.joints[j]!.name, skeleton.joints[k]!.name];
    return [
      {
        bone,
        joint: names[0]!,
        message:
          `${boneLabel(bone)} (${names[0]}) does not hang on ${boneLabel(top)} (${names[1]}); ` +
          `${hangsUnder(skeleton, k, j) ? "exchange them" : "map another joint"}, or hang the joint elsewhere.`,
      },
    ];
  });
}

const withSide = (side: string, bone: string): string => (/^[A-Z]/.test(bone) ? side + bone : bone);
