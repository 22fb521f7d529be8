import { makeRig } from "../deform/rig";
import { weightShare, subtreeOf } from "../measure/jointRegion";
import { ARM_WORDS, BONE_WORDS, FINGER_WORDS, HIP_WORDS } from "../names/boneWords";
import { humanoidMap } from "../skeleton/humanoidMap";
import { jointMotions, type JointMotion } from "../skeleton/jointMotions";
import { readName, splitWords } from "../names/nameWords";
import { isDriven, type Character, type Driver, type Shape, type ShapeDriver } from "../model/character";
import { drivenByTurn } from "../model/drivenByTurn";

/** What an undriven shape is taken for, by its name and by where it moves flesh. */
export type DriverProposal = { readonly shape: string; readonly why: string } & (
  | { readonly driver: Omit<Driver, "shape">; readonly rule: null }
  | { readonly driver: null; readonly rule: Omit<ShapeDriver, "shape"> }
);

/** A corrective moves mostly skin that its joint bends: share of its squared movement. */
const AT_THE_JOINT = 0.5;
/** Words by which directions are called, beside those of the motions themselves (common practice, no source). */
const DIRECTIONS: Readonly<Record<string, readonly string[]>> = {
  bend: ["bend", "bent", "flex", "fold", "curl"],
  raise: ["raise", "up", "lift", "abduct", "abduction"],
  forward: ["forward", "fwd", "front", "flex"],
  out: ["out", "abduct", "abduction", "spread"],
  twist: ["twist", "roll", "turn"],
  back: ["back", "backward", "extend"],
};
const SEGMENTS = ["Metacarpal", "Proximal", "Intermediate", "Distal"];
/** Angle in degrees that a name may speak of. */
const [LEAST, MOST] = [10, 175];

/**
 * Drivers for shapes that nothing sets, as a file has them that was made elsewhere: correctives whose names speak of a
 * joint, a direction and an angle and that move the flesh there,
 * and combinations whose names are those of two or three other shapes. Nothing is taken without being asked.
 */
export function proposeDrivers(character: Character): DriverProposal[] {
  const names = new Set(character.shapes.map((s) => s.name));
  const free = character.shapes.filter(
    (s) => !isDriven(character, s.name) && !character.shapeDrivers.some((d) => d.of.includes(s.name)),
  );
  const motions = character.skeleton
    ? jointMotions(character.skeleton, humanoidMap(character.skeleton, character.jointMap))
    : [];
  const share = shares(character);
  return free.flatMap((shape): DriverProposal[] => {
    const of = partsOfName(shape.name, names);
    if (of)
      return [
        {
          shape: shape.name,
          driver: null,
          rule: { of, rule: "product", enabled: true },
          why: `its name joins ${of.join(" and ")}`,
        },
      ];
    const found = motionOf(shape, motions);
    if (!found) return [];
    const { motion, degrees } = found;
    const there = share(shape, motion.joint);
    if (there < AT_THE_JOINT) return [];
    return [
      {
        shape: shape.name,
        rule: null,
        why: `its name says ${motion.label} ${degrees}°, and ${Math.round(100 * there)} % of it is there`,
        driver: drivenByTurn(motion, Math.round(0.4 * degrees), degrees),
      },
    ];
  });
}

/** Two or three names of other shapes that make up a name, with a separator between; null when they do not. */
function partsOfName(name: string, names: ReadonlySet<string>): string[] | null {
  for (const separator of ["_with_", " + ", "+", "__", "_x_", "_and_", " and ", "_", "-"]) {
    const pieces = name.split(separator);
    for (let i = 1; i < pieces.length; i++) {
      const [a, b] = [pieces.slice(0, i).join(separator), pieces.slice(i).join(separator)];
      if (names.has(a) && names.has(b) && a !== b) return [a, b];
      for (let k = i + 1; k < pieces.length; k++) {
        const three = [a, pieces.slice(i, k).join(separator), pieces.slice(k).join(separator)];
        if (three.every((n) => names.has(n)) && new Set(three).size === 3) return three;
      }
    }
  }
  return null;
}

/** The motion and angle that a name speaks of; null where it names no joint, no side, or no angle. */
function motionOf({ name }: Shape, motions: readonly JointMotion[]): { motion: JointMotion; degrees: number } | null {
  const { words, side } = readName(name);
  const angle = words.map(Number).find((n) => n >= LEAST && n <= MOST);
  if (angle === undefined) return null;
  const bones = BONE_WORDS.filter((b) => b.sets.some((set) => set.every((w) => words.includes(w)))).map((b) => b.bone);
  // "shoulder" is the collar bone where the angle lies in its range, else the arm
  if (bones.length === 0 && words.some((w) => ARM_WORDS.includes(w)))
    bones.push(...(words.includes("arm") ? ["UpperArm"] : ["Shoulder", "UpperArm"]));
  if (words.some((w) => HIP_WORDS.includes(w)) && side) bones.push("UpperLeg");
  const finger = words.map((w) => FINGER_WORDS[w]).find(Boolean);
  const segment = SEGMENTS.find((x) => words.includes(x.toLowerCase()));
  if (finger && segment) bones.push(`${finger}${segment}`);
  const spelled = splitWords(name).join(" ");
  // the joint's own name says more than the trade's words for it
  const byName = motions.filter((m) => ` ${spelled} `.includes(` ${splitWords(m.joint).join(" ")} `));
  const own = byName.length
    ? byName
    : motions.filter((m) => bones.some((b) => m.bone === (/^[A-Z]/.test(b) ? `${side ?? ""}${b}` : b)));
  // bones in the order in which the words speak for them
  const groups = byName.length
    ? [own]
    : bones.map((b) => own.filter((m) => m.bone === (/^[A-Z]/.test(b) ? `${side ?? ""}${b}` : b)));
  for (const group of groups) {
    if (group.length === 0) continue;
    const said = group.filter((m) =>
      [...splitWords(m.name), ...(DIRECTIONS[m.name] ?? [])].some((w) => words.includes(w)),
    );
    // a joint with one wide motion is bent by it; of several the widest is meant
    const motion = (said.length ? said : group).reduce((x, y) => (y.max - y.min > x.max - x.min ? y : x));
    const backward = words.some((w) => ["back", "backward", "down", "minus", "neg"].includes(w)) && motion.min < -LEAST;
    const degrees = (backward || motion.max < LEAST ? -1 : 1) * angle;
    if (degrees >= motion.min - 5 && degrees <= motion.max + 5) return { motion, degrees };
  }
  return null;
}

/**
 * How much of a shape's squared movement lies on skin that a joint, or what hangs on it, shares with others, or holds
 * next to it.
 */
function shares(character: Character): (shape: Shape, joint: string) => number {
  const body = character.parts.findIndex((p) => p.kind === "body" && p.skin);
  if (body < 0 || !character.skeleton) return () => 0;
  const rig = makeRig(character);
  const known = new Map<string, Float32Array>();
  return (shape, joint) => {
    const delta = shape.deltas.find((d) => d.part === body);
    if (!delta) return 0;
    const j = character.skeleton!.joints.findIndex((x) => x.name === joint);
    const parent = character.skeleton!.joints[j]?.parent ?? -1;
    if (!known.has(joint)) {
      const own = weightShare(rig.character.parts[body]!, subtreeOf(character, j));
      const above =
        parent >= 0 ? weightShare(rig.character.parts[body]!, subtreeOf(character, parent)) : own.map(() => 1);
      known.set(
        joint,
        own.map((s, v) => Math.max(s, above[v]!)),
      );
    }
    const near = known.get(joint)!;
    let [there, all] = [0, 0];
    delta.vertices.forEach((v, k) => {
      const d = delta.deltas[3 * k]! ** 2 + delta.deltas[3 * k + 1]! ** 2 + delta.deltas[3 * k + 2]! ** 2;
      all += d;
      if (near[v]! > 0.02) there += d;
    });
    return all > 0 ? there / all : 0;
  };
}
