import { NO_JOINT, type Skeleton } from "../model/character";
import { REQUIRED_BONES, type Side } from "./humanoidBones";
import { mapByGeometry } from "./mapByGeometry";
import { readName, sharedPrefix, type NameReading } from "./nameWords";

/** Which joint plays which VRM 1.0 humanoid bone, both ways. */
export interface HumanoidMap {
  readonly jointOfBone: ReadonlyMap<string, number>;
  /** Per joint: bone name or null. */
  readonly boneOfJoint: readonly (string | null)[];
  readonly missingRequired: readonly string[];
}

/** Words the trade uses for each stretch of the body; the first set that is wholly contained in a name's words wins. */
const VOCABULARY: readonly (readonly [bone: string, sided: boolean, ...words: string[][]])[] = [
  ["hips", false, ["hips"], ["hip"], ["pelvis"]],
  ["neck", false, ["neck"]],
  ["head", false, ["head"], ["skull"]],
  ["jaw", false, ["jaw"], ["mandible"], ["temporomandibular"]],
  ["Eye", true, ["eye"], ["eyeball"]],
  ["Shoulder", true, ["clavicle"], ["collar"], ["collarbone"], ["shoulder"], ["sternoclavicular"]],
  ["LowerArm", true, ["lower", "arm"], ["forearm"], ["fore", "arm"], ["elbow"], ["lowerarm"], ["lo", "arm"]],
  ["UpperArm", true, ["upper", "arm"], ["up", "arm"], ["upperarm"], ["uparm"]],
  ["Hand", true, ["hand"], ["wrist"], ["radiocarpal"]],
  ["LowerLeg", true, ["lower", "leg"], ["lowerleg"], ["calf"], ["shin"], ["knee"], ["lo", "leg"], ["shank"]],
  ["UpperLeg", true, ["upper", "leg"], ["up", "leg"], ["upperleg"], ["upleg"], ["thigh"]],
  ["Toes", true, ["toes"], ["toe"], ["ball"], ["toebase"], ["metatarsal"]],
  ["Foot", true, ["foot"], ["ankle"], ["talocrural"]],
];
const HELPERS = ["twist", "roll", "end", "tip", "nub", "helper", "ik", "pole", "target", "eff", "effector", "site", "adj", "share", "corrective", "lid", "brow", "lash", "cheek"];
const FINGER_WORDS: Record<string, string> = { thumb: "Thumb", index: "Index", pointer: "Index", middle: "Middle", ring: "Ring", little: "Little", pinky: "Little", pinkie: "Little" };
const capital = (s: string): string => s[0]!.toUpperCase() + s.slice(1);
const sided = (side: Side, bone: string): string => `${side}${capital(bone)}`;

/**
 * Maps joints to humanoid bones by their words, sides and places in the tree, whatever prefix and separators the names use; where required bones are not
 * found so, by where joints stand and how they hang together (mapByGeometry).
 * @param corrections joint name -> bone or null, set by hand; they win over everything.
 */
export function humanoidMap(skeleton: Skeleton, corrections: Readonly<Record<string, string | null>> = {}): HumanoidMap {
  const { joints } = skeleton;
  const skip = sharedPrefix(joints.map((j) => j.name));
  const readings = joints.map((j) => readName(j.name, skip));
  const boneOfJoint: (string | null)[] = joints.map(() => null);
  const jointOfBone = new Map<string, number>();
  const take = (joint: number, bone: string): void => {
    if (jointOfBone.has(bone) || boneOfJoint[joint]) return;
    jointOfBone.set(bone, joint);
    boneOfJoint[joint] = bone;
  };
  joints.forEach((joint, j) => {
    const bone = corrections[joint.name];
    if (bone) take(j, bone);
  });
  const free = (j: number): boolean => !boneOfJoint[j] && corrections[joints[j]!.name] !== null && !readings[j]!.words.some((w) => HELPERS.includes(w));
  const sideOf = (j: number): Side | null => {
    for (let k = j; k !== NO_JOINT; k = joints[k]!.parent) if (readings[k]!.side) return readings[k]!.side;
    return null;
  };
  joints.forEach((_, j) => {
    if (!free(j) || fingerOf(readings[j]!)) return;
    for (const [bone, isSided, ...sets] of VOCABULARY) {
      if (!sets.some((words) => words.every((w) => readings[j]!.words.includes(w)))) continue;
      if (!isSided) return take(j, bone);
      const side = sideOf(j);
      if (side) take(j, sided(side, bone));
      return;
    }
  });
  mapBareLimbs(skeleton, readings, free, sideOf, take, jointOfBone);
  mapSpine(skeleton, readings, free, take, jointOfBone);
  mapFingers(skeleton, readings, free, sideOf, take);
  // names that tell nothing, or not all: places and tree decide
  if (REQUIRED_BONES.some((b) => !jointOfBone.has(b)))
    for (const [bone, j] of mapByGeometry(skeleton)) if (corrections[joints[j]!.name] !== null) take(j, bone);
  return { jointOfBone, boneOfJoint, missingRequired: REQUIRED_BONES.filter((b) => !jointOfBone.has(b)) };
}

const fingerOf = (reading: NameReading): string | null => {
  for (const word of reading.words) if (FINGER_WORDS[word]) return FINGER_WORDS[word]!;
  return null;
};

/** "arm" and "leg" alone: which half they are depends on what stands above and below them in the tree. */
function mapBareLimbs(skeleton: Skeleton, readings: readonly NameReading[], free: (j: number) => boolean, sideOf: (j: number) => Side | null, take: (j: number, bone: string) => void, jointOfBone: ReadonlyMap<string, number>): void {
  const isAncestor = (a: number | undefined, j: number): boolean => {
    if (a === undefined) return false;
    for (let k = skeleton.joints[j]!.parent; k !== NO_JOINT; k = skeleton.joints[k]!.parent) if (k === a) return true;
    return false;
  };
  skeleton.joints.forEach((_, j) => {
    if (!free(j)) return;
    const side = sideOf(j);
    if (!side) return;
    for (const limb of ["arm", "leg"]) {
      if (!readings[j]!.words.includes(limb)) continue;
      const upper = sided(side, `Upper${capital(limb)}`);
      const lower = sided(side, `Lower${capital(limb)}`);
      if (isAncestor(jointOfBone.get(upper), j)) take(j, lower);
      else take(j, upper);
    }
  });
}

/** The chain between hips and neck (or head): one joint is the spine, two spine and chest, three or more end in upperChest. */
function mapSpine(skeleton: Skeleton, readings: readonly NameReading[], free: (j: number) => boolean, take: (j: number, bone: string) => void, jointOfBone: ReadonlyMap<string, number>): void {
  const hips = jointOfBone.get("hips");
  const top = jointOfBone.get("neck") ?? jointOfBone.get("head");
  let chain: number[] = [];
  if (top !== undefined) for (let k = skeleton.joints[top]!.parent; k !== NO_JOINT && k !== hips; k = skeleton.joints[k]!.parent) chain.unshift(k);
  if (hips === undefined && chain.length > 1) take(chain.shift()!, "hips");
  chain = chain.filter(free);
  const words = ["spine", "chest", "torso", "back", "abdomen", "waist", "thorax", "rib", "ribs"];
  if (chain.length === 0) chain = skeleton.joints.map((_, j) => j).filter((j) => free(j) && readings[j]!.words.some((w) => words.includes(w)));
  const [first, second] = chain;
  const last = chain[chain.length - 1];
  if (first !== undefined) take(first, "spine");
  if (chain.length === 2) take(second!, "chest");
  if (chain.length >= 3) {
    take(chain[chain.length - 2]!, "chest");
    take(last!, "upperChest");
  }
}

/** Finger joints in order from the hand outward; a fourth joint before the knuckle is the palm's and is left out. */
function mapFingers(skeleton: Skeleton, readings: readonly NameReading[], free: (j: number) => boolean, sideOf: (j: number) => Side | null, take: (j: number, bone: string) => void): void {
  const chains = new Map<string, number[]>();
  skeleton.joints.forEach((_, j) => {
    const finger = fingerOf(readings[j]!);
    const side = sideOf(j);
    if (finger && side && free(j) && !readings[j]!.words.includes("toe")) chains.set(`${side}${finger}`, [...(chains.get(`${side}${finger}`) ?? []), j]);
  });
  for (const [key, chain] of chains) {
    const names = key.endsWith("Thumb") ? ["Metacarpal", "Proximal", "Distal"] : ["Proximal", "Intermediate", "Distal"];
    const palm = chain.length > 3 && (readings[chain[0]!]!.words.includes("metacarpal") || readings[chain[0]!]!.words.includes("0"));
    chain.slice(palm && !key.endsWith("Thumb") ? 1 : 0).slice(0, 3).forEach((j, i) => take(j, `${key}${names[i]}`));
  }
}
