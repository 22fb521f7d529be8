import { hangOnHead } from "../../edits/mend/mendSkeleton";
import { check } from "../check";
import { mainJointOf } from "../../measure/mainJoint";
import { NO_JOINT, type Character, type Part } from "../../model/character";
import { splitWords } from "../../names/nameWords";
import { finding, type Finding } from "../finding";

const HEAD_WORDS = ["hair", "ponytail", "fringe", "hat", "cap", "eye", "eyeball", "jaw", "tongue", "teeth"];

const isHat = (part: Part): boolean =>
  part.kind === "garment" && splitWords(part.name).some((w) => ["cap", "hat", "beret", "hood", "helmet"].includes(w));
const isLower = (part: Part): boolean => splitWords(part.name).some((w) => ["lower", "bottom", "low"].includes(w));

/**
 * Hair, hats, eyes and jaw under the head; lower teeth and tongue under the jaw. By joints' names, and by what each
 * part hangs on.
 */
export const skeletonParenting = check({
  id: "skeleton.parenting",
  title: "What hangs on what",
  station: "skeleton",
  unit: "joints",
  measures: "hair, hats, eyes and jaw not under the head; lower teeth and tongue not under the jaw",
  severity: "error",
  limits: {},
  limitWords: "0",
  source: "common practice, no source",
  waitsFor: "stance and size",
  mend: {
    says: (f) =>
      f.part
        ? `Binds all of ${f.part} to the head, or to the jaw what belongs there.`
        : `Hangs ${f.joint} under the head; it stays where it is.`,
    apply: (c, f) => hangOnHead(c, f.joint!, f.part),
  },
  run: (character: Character, { humanoid }) => {
    const { skeleton } = character;
    const head = humanoid?.jointOfBone.get("head");
    if (!skeleton || head === undefined) return [];
    const jaw = humanoid!.jointOfBone.get("jaw");
    const isUnder = (j: number, top: number): boolean => {
      for (let k = j; k !== NO_JOINT; k = skeleton.joints[k]!.parent) if (k === top) return true;
      return false;
    };
    const out: Finding[] = [];
    skeleton.joints.forEach((joint, j) => {
      const word = splitWords(joint.name).find(
        (w) => HEAD_WORDS.includes(w.replace(/s$/, "")) || HEAD_WORDS.includes(w),
      );
      if (!word || isUnder(j, head)) return;
      out.push(
        finding({
          check: "skeleton.parenting",
          severity: "error",
          joint: joint.name,
          value: 1,
          unit: "joints",
          limit: 0,
          message:
            `${joint.name} hangs on ${joint.parent === NO_JOINT ? "nothing" : skeleton.joints[joint.parent]!.name} ` +
            "and not under the head; it will stay behind when the head turns.",
        }),
      );
    });
    for (const part of character.parts) {
      const main = mainJointOf(part);
      const wanted =
        (part.kind === "tongue" || (part.kind === "teeth" && isLower(part))) && jaw !== undefined
          ? jaw
          : ["hair", "eye", "lash", "brow", "teeth", "tongue", "tear line"].includes(part.kind) || isHat(part)
            ? head
            : null;
      if (wanted === null || main === NO_JOINT || isUnder(main, wanted)) continue;
      out.push(
        finding({
          check: "skeleton.parenting",
          severity: "error",
          part: part.name,
          joint: skeleton.joints[main]!.name,
          value: 1,
          unit: "joints",
          limit: 0,
          message:
            `${part.name} follows ${skeleton.joints[main]!.name}; bind ` +
            `it to ${skeleton.joints[wanted]!.name} or what hangs on it.`,
        }),
      );
    }
    return out;
  },
});
