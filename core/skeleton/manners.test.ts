import { loadOda } from "../../demo/cast";
import { skeletonOf } from "../../tests/helpers/characters";
import { worldMatrices } from "../evaluate/poseSkeleton";
import { translationOf } from "../math/mat4";
import { sub, type Vec3 } from "../math/vec3";
import { NO_JOINT, type Skeleton } from "../model/character";
import { REQUIRED_BONES } from "../names/humanoidBones";
import { humanoidMap } from "./humanoidMap";
import { mapConfidence } from "./mapConfidence";
import { mapFaults } from "./mapFaults";

const oda = await loadOda();
const base = oda.skeleton!;
const of = humanoidMap(base);
const places = worldMatrices(base, {});

interface Link {
  readonly name: string;
  readonly parent: string | null;
  readonly at: Vec3;
  /** The bone it is. */
  readonly bone: string | null;
}
const boneAt = (bone: string): Vec3 => translationOf(places, 16 * of.jointOfBone.get(bone)!);
const between = (a: Vec3, b: Vec3, t: number): Vec3 =>
  [0, 1, 2].map((r) => a[r]! + t * (b[r]! - a[r]!)) as unknown as Vec3;

/** A skeleton whose joints stand as links say, frames level. */
function standing(links: readonly Link[]): { skeleton: Skeleton; right: ReadonlyMap<string, number> } {
  const index = new Map(links.map((l, i) => [l.name, i]));
  const skeleton = skeletonOf(
    links.map((l) => ({
      name: l.name,
      parent: l.parent === null ? NO_JOINT : index.get(l.parent)!,
      translation: l.parent === null ? l.at : sub(l.at, links[index.get(l.parent)!]!.at),
    })),
  );
  return { skeleton, right: new Map(links.flatMap((l, i) => (l.bone ? [[l.bone, i] as const] : []))) };
}

type Hand = "no fingers" | "two fingers" | "three fingers" | "five fingers";
interface Make {
  readonly call: (bone: string, index: number) => string;
  readonly hand: Hand;
  readonly twists: boolean;
  readonly root: boolean;
}
const FINGERS: Record<Hand, string[]> = {
  "no fingers": [],
  "two fingers": ["Thumb", "Index"],
  "three fingers": ["Thumb", "Index", "Middle"],
  "five fingers": ["Thumb", "Index", "Middle", "Ring", "Little"],
};
const PARENT: Record<string, string> = {
  spine: "hips",
  chest: "spine",
  upperChest: "chest",
  neck: "upperChest",
  head: "neck",
  UpperLeg: "hips",
  LowerLeg: "UpperLeg",
  Foot: "LowerLeg",
  Toes: "Foot",
  Shoulder: "upperChest",
  UpperArm: "Shoulder",
  LowerArm: "UpperArm",
  Hand: "LowerArm",
};

/**
 * The demo figure's own places under other names, with as many fingers, twist joints in the limbs, and a root on the
 * ground, as asked.
 */
function figure({ call, hand, twists, root }: Make): Link[] {
  const links: Link[] = [];
  let n = 0;
  const nameOf = new Map<string, string>();
  const put = (bone: string, parent: string | null, at: Vec3, isBone = true): void => {
    const name = call(bone, n++);
    nameOf.set(bone, name);
    links.push({ name, parent: parent === null ? null : nameOf.get(parent)!, at, bone: isBone ? bone : null });
  };
  if (root) put("root", null, [0, 0, 0], false);
  put("hips", root ? "root" : null, boneAt("hips"));
  for (const bone of ["spine", "chest", "upperChest", "neck", "head"]) put(bone, PARENT[bone]!, boneAt(bone));
  for (const side of ["left", "right"])
    for (const bone of ["UpperLeg", "LowerLeg", "Foot", "Toes", "Shoulder", "UpperArm", "LowerArm", "Hand"]) {
      const above = PARENT[bone]!;
      put(`${side}${bone}`, /^[a-z]/.test(above) ? above : `${side}${above}`, boneAt(`${side}${bone}`));
      if (!twists) continue;
      const twist = { LowerArm: "UpperArm", Hand: "LowerArm" }[bone];
      if (twist)
        put(
          `${side}${twist}Twist`,
          `${side}${twist}`,
          between(boneAt(`${side}${twist}`), boneAt(`${side}${bone}`), 0.5),
          false,
        );
    }
  for (const side of ["left", "right"])
    for (const finger of FINGERS[hand])
      (finger === "Thumb" ? ["Metacarpal", "Proximal", "Distal"] : ["Proximal", "Intermediate", "Distal"]).forEach(
        (segment, i, all) =>
          put(
            `${side}${finger}${segment}`,
            i === 0 ? `${side}Hand` : `${side}${finger}${all[i - 1]}`,
            boneAt(`${side}${finger}${segment}`),
          ),
      );
  return links;
}

const parts = (bone: string): { side: "left" | "right" | null; rest: string } => ({
  side: /^left/.test(bone) ? "left" : /^right/.test(bone) ? "right" : null,
  rest: bone.replace(/^(left|right)/, ""),
});
/** Names by a table of words; the side where the manner puts it. What the table lacks keeps its own words. */
const worded =
  (words: Readonly<Record<string, string>>, put: (side: "left" | "right" | null, word: string) => string) =>
  (bone: string): string => {
    const { side, rest } = parts(bone);
    const twist = rest.endsWith("Twist");
    const word = words[twist ? rest.slice(0, -5) : rest] ?? rest;
    return put(side, twist ? `${word}_twist` : word);
  };
const FINGER_ANATOMY = (thumb: string, others: readonly string[]): Record<string, string> =>
  Object.fromEntries(
    [["Thumb", thumb], ...["Index", "Middle", "Ring", "Little"].map((f, i) => [f, others[i]!])].flatMap(
      ([finger, word]) =>
        ["Metacarpal", "Proximal", "Intermediate", "Distal"].map((s, i) => [`${finger}${s}`, `${word}_${i}`]),
    ),
  );

/** Twelve manners of our own, and more. */
const MANNERS: readonly [string, (bone: string, index: number) => string][] = [
  [
    "anatomical English, side letters before",
    worded(
      {
        hips: "sacrum",
        spine: "lumbar",
        chest: "thorax",
        upperChest: "thorax_upper",
        neck: "cervical",
        head: "cranium",
        UpperLeg: "femur",
        LowerLeg: "tibia",
        Foot: "talus",
        Toes: "metatarsus",
        Shoulder: "clavicle",
        UpperArm: "humerus",
        LowerArm: "radius",
        Hand: "carpus",
      },
      (s, w) => (s ? `${s[0]!}_${w}` : w),
    ),
  ],
  [
    "Latin, _sin and _dex",
    worded(
      {
        hips: "os_sacrum",
        spine: "vertebra_lumbalis",
        chest: "thorax",
        upperChest: "thorax_superior",
        neck: "collum",
        head: "caput",
        UpperLeg: "femur",
        LowerLeg: "crus",
        Foot: "pes",
        Toes: "hallux",
        Shoulder: "clavicula",
        UpperArm: "brachium",
        LowerArm: "antebrachium",
        Hand: "manus",
        ...FINGER_ANATOMY("pollex", ["index", "medius", "anularis", "minimus"]),
      },
      (s, w) => (s ? `${w}_${s === "left" ? "sin" : "dex"}` : w),
    ),
  ],
  [
    "German, side in front",
    worded(
      {
        hips: "Becken",
        spine: "Lendenwirbel",
        chest: "Brustkorb",
        upperChest: "Brust_oben",
        neck: "Hals",
        head: "Kopf",
        UpperLeg: "Oberschenkel",
        LowerLeg: "Unterschenkel",
        Foot: "Fuß",
        Toes: "Zehen",
        Shoulder: "Schlüsselbein",
        UpperArm: "Oberarm",
        LowerArm: "Unterarm",
        Hand: "Hand",
        ...FINGER_ANATOMY("Daumen", ["Zeigefinger", "Mittelfinger", "Ringfinger", "Kleinfinger"]),
      },
      (s, w) => (s ? `${s === "left" ? "Links" : "Rechts"}${w}` : w),
    ),
  ],
  [
    "German joints, _li and _re",
    worded(
      {
        hips: "becken",
        spine: "wirbel_1",
        chest: "wirbel_2",
        upperChest: "wirbel_3",
        neck: "nacken",
        head: "schädel",
        UpperLeg: "hüfte",
        LowerLeg: "knie",
        Foot: "knöchel",
        Toes: "ballen",
        Shoulder: "schlüsselbein",
        UpperArm: "schulter",
        LowerArm: "ellbogen",
        Hand: "handgelenk",
      },
      (s, w) => (s ? `${w}_${s === "left" ? "li" : "re"}` : w),
    ),
  ],
  [
    "joints, not limbs",
    worded(
      {
        hips: "pelvis",
        spine: "waist",
        chest: "mid_back",
        upperChest: "ribcage",
        neck: "neck",
        head: "skull",
        UpperLeg: "hip",
        LowerLeg: "knee",
        Foot: "ankle",
        Toes: "ball",
        Shoulder: "collar",
        UpperArm: "shoulder",
        LowerArm: "elbow",
        Hand: "wrist",
      },
      (s, w) => (s ? `${w}.${s === "left" ? "L" : "R"}` : w),
    ),
  ],
  [
    "shoulder, arm, forearm; hip, leg, foot",
    worded(
      {
        spine: "back1",
        chest: "back2",
        upperChest: "back3",
        UpperLeg: "UpLeg",
        LowerLeg: "Leg",
        Shoulder: "Shoulder",
        UpperArm: "Arm",
        LowerArm: "ForeArm",
      },
      (s, w) => (s ? `body:${s === "left" ? "Left" : "Right"}${w}` : `body:${w}`),
    ),
  ],
  [
    "leg, knee; arm, elbow",
    worded({ UpperLeg: "leg", LowerLeg: "knee", UpperArm: "arm", LowerArm: "elbow" }, (s, w) =>
      s ? `${s}_${w.toLowerCase()}` : w.toLowerCase(),
    ),
  ],
  [
    "written together, in small letters",
    worded({ UpperLeg: "thigh", LowerLeg: "shin", UpperArm: "upperarm", LowerArm: "forearm" }, (s, w) =>
      s ? `${s[0]!}${w.toLowerCase()}` : w.toLowerCase(),
    ),
  ],
  [
    "a prefix, capitals, side behind",
    worded(
      { LowerLeg: "CALF", UpperLeg: "THIGH" },
      (s, w) => `CHR01_${w.toUpperCase()}${s ? `_${s === "left" ? "LT" : "RT"}` : ""}`,
    ),
  ],
  ["no side words", worded({}, (_, w) => w)],
  ["French sides", worded({}, (s, w) => (s ? `${w}_${s === "left" ? "gauche" : "droite"}` : w))],
  ["numbers", (_, i) => `joint${i}`],
  ["letters and numbers", (_, i) => `q${(i * 53) % 97}x`],
];
// names that are the same on both sides get a number behind, as a file would need
const unlike = (links: readonly Link[]): readonly Link[] =>
  (new Set(links.map((l) => l.name)).size === links.length ? links : null) ?? [];

const HANDS: readonly Hand[] = ["no fingers", "two fingers", "three fingers", "five fingers"];
describe.each(MANNERS)("joints named by %s", (what, call) => {
  it.each(
    HANDS.flatMap((hand) =>
      [false, true].flatMap((twists) =>
        [false, true].map(
          (root) =>
            [
              hand,
              twists ? "with twists" : "without twists",
              root ? "with a root" : "without a root",
              { hand, twists, root },
            ] as const,
        ),
      ),
    ),
  )("%s, %s, %s", (_h, _t, _r, make) => {
    const named = what === "no side words" ? (bone: string, i: number): string => `${call(bone, i)}_${i}` : call;
    const links = figure({ call: named, ...make });
    expect(unlike(links).length).toBe(links.length);
    const { skeleton, right } = standing(links);
    const map = humanoidMap(skeleton);
    const told = (j: number | undefined): string | undefined => (j === undefined ? undefined : links[j]!.name);
    expect(REQUIRED_BONES.map((b) => `${b}: ${told(map.jointOfBone.get(b))}`)).toEqual(
      REQUIRED_BONES.map((b) => `${b}: ${told(right.get(b))}`),
    );
    // fingers may be left open, but none is called another
    for (const [bone, j] of map.jointOfBone)
      if (/Thumb|Index|Middle|Ring|Little/.test(bone)) expect(links[j]!.bone).toMatch(/Thumb|Index|Middle|Ring|Little/);
    expect(mapFaults(skeleton, map)).toEqual([]);
  });
});

describe("H-Anim's joints (ISO/IEC 19774-1:2019, table of joint objects; names from memory)", () => {
  const trunk = ["vl5", "vl4", "vl3", "vl2", "vl1", ...Array.from({ length: 12 }, (_, i) => `vt${12 - i}`)];
  const cervical = ["vc7", "vc6", "vc5", "vc4", "vc3", "vc2", "vc1"];
  const limb = (side: "left" | "right", leg: readonly string[], arm: readonly string[], top: string): Link[] => {
    const s = side[0]!;
    const chain = (
      names: readonly string[],
      bones: readonly (string | null)[],
      parent: string,
      at: readonly Vec3[],
    ): Link[] =>
      names.map((n, i) => ({
        name: `${s}_${n}`,
        parent: i === 0 ? parent : `${s}_${names[i - 1]}`,
        at: at[i]!,
        bone: bones[i] === null ? null : `${side}${bones[i]}`,
      }));
    const b = (bone: string): Vec3 => boneAt(`${side}${bone}`);
    return [
      ...chain(leg, ["UpperLeg", "LowerLeg", "Foot", "Toes"], "sacroiliac", [
        b("UpperLeg"),
        b("LowerLeg"),
        b("Foot"),
        b("Toes"),
      ]),
      ...chain(
        arm,
        arm.length === 5
          ? ["Shoulder", null, "UpperArm", "LowerArm", "Hand"]
          : ["Shoulder", "UpperArm", "LowerArm", "Hand"],
        top,
        [
          b("Shoulder"),
          ...(arm.length === 5 ? [between(b("Shoulder"), b("UpperArm"), 0.8)] : []),
          b("UpperArm"),
          b("LowerArm"),
          b("Hand"),
        ],
      ),
    ];
  };
  const whole = (leg: readonly string[], arm: readonly string[], spine: readonly string[]): Link[] => {
    const [low, high] = [boneAt("hips"), boneAt("neck")];
    return [
      { name: "humanoid_root", parent: null, at: low, bone: "hips" },
      { name: "sacroiliac", parent: "humanoid_root", at: [low[0], low[1] + 0.005, low[2]], bone: null },
      ...spine.map((name, i): Link => ({
        name,
        parent: i === 0 ? "humanoid_root" : spine[i - 1]!,
        at: between(low, high, (i + 1) / (spine.length + 1)),
        bone: i === 0 ? "spine" : null,
      })),
      ...cervical.map((name, i): Link => ({
        name,
        parent: i === 0 ? spine[spine.length - 1]! : cervical[i - 1]!,
        at: between(high, boneAt("head"), i / 7),
        bone: i === 0 ? "neck" : null,
      })),
      { name: "skullbase", parent: "vc1", at: boneAt("head"), bone: "head" },
      ...limb("left", leg, arm, spine[spine.length - 1]!),
      ...limb("right", leg, arm, spine[spine.length - 1]!),
    ];
  };
  it.each<[string, string[], string[], string[]]>([
    [
      "of the second edition",
      ["hip", "knee", "talocrural", "metatarsophalangeal_2"],
      ["sternoclavicular", "acromioclavicular", "shoulder", "elbow", "radiocarpal"],
      trunk,
    ],
    [
      "of the first edition",
      ["hip", "knee", "ankle", "metatarsal"],
      ["sternoclavicular", "acromioclavicular", "shoulder", "elbow", "wrist"],
      trunk,
    ],
    [
      "few of them",
      ["hip", "knee", "talocrural", "tarsometatarsal_2"],
      ["sternoclavicular", "shoulder", "elbow", "radiocarpal"],
      ["vl5", "vl3", "vt10", "vt1"],
    ],
  ])("%s", (_, leg, arm, spine) => {
    const links = whole(leg, arm, spine);
    const { skeleton, right } = standing(links);
    const map = humanoidMap(skeleton);
    const told = (j: number | undefined): string | undefined => (j === undefined ? undefined : links[j]!.name);
    for (const bone of [...REQUIRED_BONES, "leftShoulder", "neck", "leftToes"])
      expect(`${bone}: ${told(map.jointOfBone.get(bone))}`).toBe(`${bone}: ${told(right.get(bone))}`);
    expect(links[map.jointOfBone.get("upperChest")!]!.name).toBe("vt1");
    expect(mapFaults(skeleton, map)).toEqual([]);
  });
});

describe("a map against the tree", () => {
  const { skeleton } = standing(figure({ call: (b) => b, hand: "no fingers", twists: false, root: false }));
  it("is told: the chest below the upper chest", () => {
    const map = humanoidMap(skeleton, { chest: "upperChest", upperChest: "chest" });
    const faults = mapFaults(skeleton, map);
    expect(faults.map((f) => f.bone)).toEqual(["upperChest"]);
    expect(faults[0]!.message).toBe(
      "upper chest (chest) does not hang on chest (upperChest); exchange them, or hang the joint elsewhere.",
    );
  });
  it("names nothing where all hangs right", () => expect(mapFaults(skeleton, humanoidMap(skeleton))).toEqual([]));
});

it("names that say nothing rest on places alone, and are said to", () => {
  const { skeleton } = standing(figure({ call: (_, i) => `n${i}`, hand: "two fingers", twists: true, root: true }));
  const grounds = [...mapConfidence(skeleton)]
    .filter(([bone]) => (REQUIRED_BONES as readonly string[]).includes(bone))
    .map(([, g]) => g.ground);
  expect(new Set(grounds)).toEqual(new Set(["place"]));
});
