import { useSnackbar } from "notistack";
import { useCallback } from "react";
import { dot } from "~core/math/vec3";
import type { JointProposal } from "~core/correctives/proposeForJoint";
import type { Character } from "~core/model/character";
import { mirrorBone, sideOfBone } from "~core/names/humanoidBones";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { CorrectedItems } from "./correctedItems";
import { shareJob } from "./jobs/pageJobs";
import { useToldWork } from "./jobs/useToldWork";
import type { Work } from "./jobs/useWork";
import { useSessionStore, type Loaded } from "./session";
import { useDesk } from "./useDesk";
import { counted } from "../ui/counted";

export interface CorrectAll {
  /** What is being proposed and how far all of it is, or null. */
  readonly running: Work["running"];
  /**
   * Proposes correctives for motions and keeps them as one step; motions that have one already are passed over. Both
   * sides come out alike. Resolves to the motions that were corrected.
   */
  readonly run: (motions: readonly JointMotion[]) => Promise<readonly JointMotion[]>;
  readonly cancel: () => void;
}

/** Whether a corrective that is switched on acts along a motion. */
export const isCorrected = (character: Character, m: JointMotion): boolean =>
  character.drivers.some((d) => d.enabled && d.joint === m.joint && Math.abs(dot(d.axis, m.axis)) > 0.98) ||
  (character.poseDrivers ?? []).some(
    (d) =>
      d.enabled &&
      d.group === "corrective" &&
      d.terms.some((t) => t.kind === "angle" && t.joint === m.joint && Math.abs(dot(t.axis, m.axis)) > 0.98),
  ) ||
  (character.sampleSets ?? []).some(
    (s) => s.enabled && s.group === "corrective" && s.samples.length > 0 && s.joints.some((j) => j.joint === m.joint),
  );

/** Motions of one joint, with those of its counterpart on the other side. */
interface JointWork {
  readonly motions: readonly JointMotion[];
  readonly twins: readonly JointMotion[];
}

/** Joints to be corrected: of two sides one is sculpted, and the other gets its mirror image. */
function jointsOf(character: Character, bare: readonly JointMotion[], all: readonly JointMotion[]): JointWork[] {
  const twin = (m: JointMotion): JointMotion | undefined =>
    sideOfBone(m.bone)
      ? all.find((x) => x.bone === mirrorBone(m.bone) && x.name === m.name && !isCorrected(character, x))
      : undefined;
  const wanted = new Set(bare.map((m) => m.id));
  const out = new Map<string, { motions: JointMotion[]; twins: JointMotion[] }>();
  for (const m of bare) {
    const other = twin(m);
    if (sideOfBone(m.bone) === "right" && other && wanted.has(other.id)) continue;
    const own = out.get(m.joint) ?? { motions: [], twins: [] };
    own.motions.push(m);
    if (other) own.twins.push(other);
    out.set(m.joint, own);
  }
  // what takes long first, so that threads get as much of it each
  return [...out.values()].sort((a, b) => b.motions.length - a.motions.length);
}

type Told = NonNullable<Parameters<typeof shareJob>[4]>;

/** Proposes correctives for joints, each for some of its motions, shared among the workers. */
const proposer =
  (loaded: Loaded, told: Told) =>
  (list: readonly (readonly JointMotion[])[]): Promise<(JointProposal | null)[]> =>
    shareJob<"correct joints", readonly JointMotion[], JointProposal | null>(
      loaded,
      "correct joints",
      list,
      (items) => ({
        joints: items.map((of) => ({ joint: of[0]!.joint, motions: of.map((m) => m.id) })),
        profile: "realtime",
      }),
      told,
    );

/** Correctives by measure for every motion that is over the limits, in the workers. */
export function useCorrectAll(): CorrectAll {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const { enqueueSnackbar } = useSnackbar();
  const { running, during, cancel } = useToldWork("The correctives could not be proposed.");
  const run = useCallback(
    async (motions: readonly JointMotion[]): Promise<readonly JointMotion[]> => {
      const { loaded } = store.getState();
      if (!loaded) return [];
      const { character } = loaded;
      const bare = motions.filter((m) => !isCorrected(character, m));
      const joints = jointsOf(character, bare, loaded.motions);
      const kept = new CorrectedItems(character);
      const corrected = new Set<JointMotion>();
      const proposed = await during(`Correcting ${counted(joints.length, "joints")}`, async (progress, signal) => {
        const propose = proposer(loaded, { progress, signal });
        const made = await propose(joints.map((j) => j.motions));
        for (const [at, own] of made.entries()) {
          const { motions, twins } = joints[at]!;
          if (!own) continue;
          const before = kept.count;
          await kept.keep(own);
          if (kept.count === before) continue;
          for (const m of [...motions, ...twins]) corrected.add(m);
          if (twins.length === 0 || (await kept.keepMirrored(own))) continue;
          // a figure whose sides differ is measured on both
          const [other] = await propose([twins]);
          if (other) await kept.keep(other);
        }
        return true;
      });
      if (!proposed) return [];
      if (kept.count === 0) {
        enqueueSnackbar(
          joints.length
            ? "Nothing needed a corrective."
            : "Every motion over a limit has a corrective already: sculpt it further.",
          { variant: "info" },
        );
        return [];
      }
      const { step, blobs } = kept.step();
      if (!(await addStep(step, blobs))) return [];
      enqueueSnackbar(`${kept.count} correctives made, as one step. What they do is being swept.`, {
        variant: "success",
      });
      return [...corrected];
    },
    [store, addStep, enqueueSnackbar, during],
  );
  return { running, run, cancel };
}
