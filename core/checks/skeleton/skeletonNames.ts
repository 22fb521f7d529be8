import { nameBySide } from "../../edits/mend/mendSkeleton";
import { check } from "../check";
import { worldMatrices } from "../../evaluate/poseSkeleton";
import { translationOf } from "../../math/mat4";
import { readName, sharedPrefix, splitWords } from "../../names/nameWords";
import { finding, type Finding } from "../finding";

/** Nearer to the middle than this a joint is on no side, metres. */
const OFF_MIDDLE = 0.01;
/** From this share on a prefix counts as the skeleton's own, and joints without it as strays. */
const MOST = 0.6;

/** The text before the first colon, bar or double underscore, with it. */
const namespaceOf = (name: string): string => /^[^:|]*[:|]/.exec(name)?.[0] ?? "";

/** Side words that disagree with where the joint stands, and joints named in another manner than the rest. */
export const skeletonNames = check({
  id: "skeleton.names",
  title: "Joint names",
  station: "skeleton",
  unit: "joints",
  measures:
    "side words that disagree with where the joint stands; joints " +
    "without the prefix or with another separator than the rest",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "our own choice",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      `Gives ${f.joint} the word of the side it stands on, here and in ` +
      "clips and drivers; two joints that are swapped exchange their names.",
    apply: (c, f) => nameBySide(c, f.joint!),
  },
  run: (character) => {
    const { skeleton } = character;
    if (!skeleton) return [];
    const world = worldMatrices(skeleton, {});
    const names = skeleton.joints.map((j) => j.name);
    const skip = sharedPrefix(names);
    const out: Finding[] = [];
    const add = (joint: string, severity: "error" | "warn", message: string): void =>
      void out.push(finding({ check: "skeleton.names", severity, joint, value: 1, unit: "joints", limit: 0, message }));
    skeleton.joints.forEach((joint, j) => {
      const { side } = readName(joint.name, skip);
      const x = translationOf(world, 16 * j)[0];
      if (side && Math.abs(x) > OFF_MIDDLE && x > 0 !== (side === "left"))
        add(
          joint.name,
          "error",
          `${joint.name} says ${side} but stands on the ${x > 0 ? "left" : "right"}; rename it.`,
        );
    });
    const spaces = new Map<string, number>();
    for (const name of names) spaces.set(namespaceOf(name), (spaces.get(namespaceOf(name)) ?? 0) + 1);
    const [main, count] = [...spaces].sort((a, b) => b[1] - a[1])[0] ?? ["", 0];
    if (spaces.size > 1 && count >= MOST * names.length)
      for (const name of names)
        if (namespaceOf(name) !== main)
          add(
            name,
            "warn",
            main
              ? `${name} lacks the prefix ${main} that the other joints have.`
              : `${name} carries a prefix that the other joints do not have.`,
          );
    const separators = ["_", ".", "-", " "]
      .map((s) => ({
        s,
        users: names.filter((n) => splitWords(n).length > 1 && n.slice(namespaceOf(n).length).includes(s)),
      }))
      .filter((x) => x.users.length > 0);
    const usual = separators.reduce(
      (best, x) => (x.users.length > best.users.length ? x : best),
      separators[0] ?? { s: "", users: [] },
    );
    if (separators.length > 1 && usual.users.length >= MOST * names.length)
      for (const { s, users } of separators)
        if (s !== usual.s)
          for (const name of users.filter((n) => !n.slice(namespaceOf(n).length).includes(usual.s)))
            add(name, "warn", `${name} is written with "${s}" where the other joints have "${usual.s}".`);
    return out;
  },
});
