/**
 * Words by which joints are called, for each humanoid bone: English of the trade, H-Anim's joints (ISO/IEC 19774,
 * "Joint names"), anatomical Latin and German (common practice, no source). Bones without a side in their name here are
 * those of the middle; limbs are told apart by `armOrLeg` where a word can mean two.
 */
export interface BoneWords {
  readonly bone: string;
  readonly sided: boolean;
  /** Sets of words; one set wholly contained in a name speaks for the bone. Earlier sets speak louder. */
  readonly sets: readonly (readonly string[])[];
}

const sets = (text: string): string[][] => text.split(",").map((s) => s.trim().split(" "));

/** Words that speak for one bone only. */
export const BONE_WORDS: readonly BoneWords[] = [
  { bone: "hips", sided: false, sets: sets("hips, pelvis, hip, sacrum, becken, huefte, hueften, beckenbein") },
  { bone: "neck", sided: false, sets: sets("neck, vc, cervical, cervix, collum, hals, nacken, halswirbel") },
  { bone: "head", sided: false, sets: sets("head, skull, skullbase, cranium, caput, kopf, schaedel") },
  { bone: "jaw", sided: false, sets: sets("jaw, mandible, mandibula, temporomandibular, unterkiefer, kiefer") },
  { bone: "Eye", sided: true, sets: sets("eye, eyeball, oculus, auge, augapfel") },
  {
    bone: "Shoulder",
    sided: true,
    sets: sets(
      "clavicle, clavicula, collar, collarbone, sternoclavicular, " +
        "schluesselbein, scapula, shoulderblade, schulterblatt, acromioclavicular",
    ),
  },
  {
    bone: "LowerArm",
    sided: true,
    sets: sets(
      "lower arm, forearm, fore arm, elbow, lowerarm, lo arm, " +
        "antebrachium, radius, ulna, cubitus, unterarm, ellbogen, ellenbogen",
    ),
  },
  {
    bone: "UpperArm",
    sided: true,
    sets: sets("upper arm, up arm, upperarm, uparm, humerus, oberarm, brachium, glenohumeral"),
  },
  { bone: "Hand", sided: true, sets: sets("hand, wrist, radiocarpal, carpus, manus, handgelenk, handwurzel") },
  {
    bone: "LowerLeg",
    sided: true,
    sets: sets(
      "lower leg, lowerleg, calf, shin, knee, lo leg, shank, tibia, crus, genu, unterschenkel, knie, schienbein, wade",
    ),
  },
  {
    bone: "UpperLeg",
    sided: true,
    sets: sets("upper leg, up leg, upperleg, upleg, thigh, femur, oberschenkel, coxofemoral"),
  },
  {
    bone: "Toes",
    sided: true,
    sets: sets(
      "toes, toe, ball, toebase, metatarsal, metatarsus, metatarsophalangeal, " +
        "tarsometatarsal, midtarsal, hallux, zehen, zehe, zeh, fussballen, ballen",
    ),
  },
  {
    bone: "Foot",
    sided: true,
    sets: sets("foot, ankle, talocrural, talus, tarsus, pes, fuss, knoechel, sprunggelenk, fussgelenk"),
  },
];

/** Words of the trunk between hips and neck; which bone each is tells its place in the chain. */
export const TRUNK_WORDS = [
  "spine",
  "chest",
  "torso",
  "back",
  "abdomen",
  "waist",
  "thorax",
  "rib",
  "ribs",
  "ribcage",
  "lumbar",
  "lumbalis",
  "vertebra",
  "vl",
  "vt",
  "wirbel",
  "wirbelsaeule",
  "rueckgrat",
  "ruecken",
  "brust",
  "brustkorb",
  "bauch",
  "lende",
  "lenden",
  "rumpf",
];
export const CHEST_WORDS = ["chest", "thorax", "ribcage", "brust", "brustkorb"];

/** Words that can mean two bones of a limb; the tree decides. */
export const ARM_WORDS = ["arm", "shoulder", "schulter"];
export const HIP_WORDS = ["hip", "huefte", "hueft"];

/** Joints beside the bones: they share a turn, mark an end, steer or carry a feature of the face. */
export const HELPER_WORDS = [
  "twist",
  "roll",
  "end",
  "tip",
  "nub",
  "helper",
  "ik",
  "pole",
  "target",
  "eff",
  "effector",
  "site",
  "adj",
  "share",
  "corrective",
  "lid",
  "eyelid",
  "brow",
  "eyebrow",
  "lash",
  "eyelash",
  "cheek",
  "verdreh",
  "drehung",
  "ende",
  "lachrymal",
];

export const FINGER_WORDS: Readonly<Record<string, string>> = {
  thumb: "Thumb",
  index: "Index",
  pointer: "Index",
  middle: "Middle",
  ring: "Ring",
  little: "Little",
  pinky: "Little",
  pinkie: "Little",
  pollex: "Thumb",
  medius: "Middle",
  anularis: "Ring",
  annularis: "Ring",
  minimus: "Little",
  daumen: "Thumb",
  zeigefinger: "Index",
  mittelfinger: "Middle",
  ringfinger: "Ring",
  kleinfinger: "Little",
};
/** Words of finger joints that are numbered, from the thumb. */
export const NUMBERED_FINGER_WORDS = [
  "finger",
  "digit",
  "digitus",
  "carpometacarpal",
  "metacarpophalangeal",
  "interphalangeal",
  "phalanx",
  "metacarpal",
  "fingers",
];

const KNOWN = new Set<string>([
  ...BONE_WORDS.flatMap((b) => b.sets.flat()),
  ...TRUNK_WORDS,
  ...ARM_WORDS,
  ...HIP_WORDS,
  ...HELPER_WORDS,
  ...Object.keys(FINGER_WORDS),
  ...NUMBERED_FINGER_WORDS,
  "leg",
  "base",
  "left",
  "right",
  "links",
  "rechts",
  "sinister",
  "dexter",
  "root",
]);

/**
 * A word that is written together, in its known words: "lefthand" in two, "rknee" in two; a word that is known, or is
 * none of them, as it is.
 */
export function knownWordsIn(word: string): readonly string[] {
  if (word.length < 4 || KNOWN.has(word)) return [word];
  const found = split(word);
  if (found) return found;
  for (const side of ["l", "r"]) {
    if (word.startsWith(side) && split(word.slice(1))) return [side, ...split(word.slice(1))!];
    if (word.endsWith(side) && split(word.slice(0, -1))) return [...split(word.slice(0, -1))!, side];
  }
  return [word];
}

/** Fewest known words of at least three letters that make up a word. */
function split(word: string): readonly string[] | null {
  const best: (readonly string[] | null)[] = [[]];
  for (let end = 1; end <= word.length; end++) {
    best[end] = null;
    for (let start = 0; start <= end - 3; start++) {
      const before = best[start];
      const piece = word.slice(start, end);
      if (before && KNOWN.has(piece) && (!best[end] || before.length + 1 < best[end]!.length))
        best[end] = [...before, piece];
    }
  }
  return best[word.length] ?? null;
}
