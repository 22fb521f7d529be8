import { useSnackbar } from "notistack";
import { useCallback } from "react";
import type { Character } from "~core/model/character";
import { uniqueName } from "~core/model/uniqueName";
import { dot } from "~core/math/vec3";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { mirrorDriver } from "~core/correctives/mirrorCorrective";
import { mirrorDeltas, mirrorName } from "~core/shapes/mirrorDeltas";
import type { RangeProposal } from "~core/correctives/proposeForRange";
import type { Driver, ShapeDelta } from "~core/model/character";
import { mirrorBone, sideOfBone } from "~core/names/humanoidBones";
import { startJob } from "./jobs/pageJobs";
import { useToldWork } from "./jobs/useToldWork";
import type { Work } from "./jobs/useWork";
import { correctiveItem } from "./sculpt";
import { useSessionStore } from "./session";
import { useDesk } from "./useDesk";

export interface CorrectAll {
  /** What is being proposed and how far all of it is, or null. */
  readonly running: Work["running"];
  /**
   * Proposes correctives for both ends of motions and keeps them as one step; motions that have one already are passed
   * over. Both sides come out alike. Resolves to the motions that were corrected.
   */
  readonly run: (motions: readonly JointMotion[]) => Promise<readonly JointMotion[]>;
  readonly cancel: () => void;
}

/** From this share of vertices without a counterpart on a figure counts as other on either side. */
const ASYMMETRIC = 0.02;

/** Whether a corrective that is switched on acts along a motion. */
export const isCorrected = (character: Character, m: JointMotion): boolean =>
  character.drivers.some((d) => d.enabled && d.joint === m.joint && Math.abs(dot(d.axis, m.axis)) > 0.98) ||
  (character.poseDrivers ?? []).some(
    (d) =>
      d.enabled &&
      d.group === "corrective" &&
      d.terms.some((t) => t.kind === "angle" && t.joint === m.joint && Math.abs(dot(t.axis, m.axis)) > 0.98),
  );

/** Correctives by measure for every motion that is over the limits, one after the other in the worker. */
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
      // of two sides one is sculpted, and the other gets its mirror image
      const other = (m: JointMotion): JointMotion | undefined =>
        sideOfBone(m.bone)
          ? loaded.motions.find((x) => x.bone === mirrorBone(m.bone) && x.name === m.name && !isCorrected(character, x))
          : undefined;
      const first = bare.filter((m) => !(sideOfBone(m.bone) === "right" && other(m) && bare.includes(other(m)!)));
      const ends = first.flatMap((motion) =>
        [motion.min, motion.max].filter((end) => end !== 0).map((end) => ({ motion, end })),
      );
      const taken = new Set(character.shapes.map((s) => s.name));
      const items: Awaited<ReturnType<typeof correctiveItem>>[] = [];
      const corrected = new Set<JointMotion>();
      const keep = async (
        motion: JointMotion,
        deltas: readonly ShapeDelta[],
        driver: Driver,
        wished: string,
      ): Promise<void> => {
        const name = uniqueName(wished, taken, "corrective");
        items.push(await correctiveItem(character, deltas, { ...driver, shape: name, method: "linear" }, name));
        corrected.add(motion);
      };
      const proposed = await during("Finding where the flesh goes", async (tell, signal) => {
        for (const [i, { motion, end }] of ends.entries()) {
          const progress = (share: number): void =>
            tell((i + share) / ends.length, `${motion.label}, ${i + 1} of ${ends.length}`);
          progress(0);
          const propose = (m: JointMotion): Promise<RangeProposal | null> =>
            startJob(loaded, "correct range", { motion: m.id, end, profile: "realtime" }, { progress, signal });
          const made = (await propose(motion))?.made ?? [];
          for (const { shape, driver } of made) await keep(motion, shape.deltas, driver, shape.name);
          const twin = other(motion);
          if (!twin) continue;
          const mirrored = made.map(({ shape, driver }) => ({
            ...mirrorDeltas(character, shape.deltas),
            driver: mirrorDriver(character, driver),
            shape,
          }));
          const unmatched = mirrored.reduce((n, m) => n + m.unmatched, 0);
          const moved = made.reduce((n, m) => n + m.shape.deltas.reduce((k, d) => k + d.vertices.length, 0), 0);
          if (unmatched <= ASYMMETRIC * moved)
            for (const m of mirrored) await keep(twin, m.deltas, m.driver, mirrorName(m.shape.name));
          // a figure whose sides differ is measured on both
          else if (bare.includes(twin))
            for (const { shape, driver } of (await propose(twin))?.made ?? [])
              await keep(twin, shape.deltas, driver, shape.name);
        }
        return true;
      });
      if (!proposed) return [];
      if (!items.length) {
        enqueueSnackbar(
          ends.length
            ? "Nothing needed a corrective."
            : "Every motion over a limit has a corrective already: sculpt it further.",
          { variant: "info" },
        );
        return [];
      }
      if (
        !(await addStep(
          { op: "make correctives", items: items.map((m) => m.item) },
          items.map((m) => m.bytes),
        ))
      )
        return [];
      enqueueSnackbar(`${items.length} correctives made, as one step. What they do is being swept.`, {
        variant: "success",
      });
      return [...corrected];
    },
    [store, addStep, enqueueSnackbar, during],
  );
  return { running, run, cancel };
}
