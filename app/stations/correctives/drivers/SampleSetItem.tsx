import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { useMemo, useState, type ReactNode } from "react";
import { turnsIn } from "~core/correctives/sampleEdits";
import { swingMapAt, twistOf } from "~core/correctives/swingMap";
import { readySamples } from "~core/evaluate/drivers/sampleWeights";
import { conjugate, fromAxisAngle, multiplyQuat, toEulerXYZ, twistDegrees } from "~core/math/quat";
import { dot, type Quat, type Vec3 } from "~core/math/vec3";
import { jointIndexOf } from "~core/model/character";
import { SAMPLE_KERNELS, type SampleSet } from "~core/model/poseDriver";
import type { JointMotion } from "~core/skeleton/jointMotions";
import {
  mirrorSamplesStep,
  proposedSamplesStep,
  sampleStep,
  withoutSampleStep,
  written,
} from "../../../session/poseDrivers";
import { weighedStep } from "../../../session/driverStep";
import { startJob } from "../../../session/jobs/pageJobs";
import { useWork } from "../../../session/jobs/useWork";
import { beginSculpt } from "../../../session/sculpt";
import { useSession, useSessionStore } from "../../../session/session";
import { setView } from "../../../session/slices/view";
import { useDesk } from "../../../session/useDesk";
import { Progress } from "../../../ui/Progress";
import { ScrubCommit } from "../../../ui/ScrubCommit";
import { Segmented } from "../../../ui/Segmented";
import { ItemHead } from "../ItemHead";
import { useAttempt } from "../useAttempt";
import { GroupSelect } from "./GroupSelect";
import { SwingChart, swingWords } from "./SwingChart";
import { TwistScale } from "./TwistScale";

interface SampleSetItemProps {
  readonly set: SampleSet;
  readonly motion: JointMotion;
  /** Whether the ledger has it; one that is begun gets its first sample. */
  readonly kept: boolean;
  readonly onKept?: () => void;
}

/** Sampled poses of a joint: the chart of its directions, each sample with its weight now, and what can be done. */
export function SampleSetItem({ set, motion, kept, onKept }: SampleSetItemProps): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const loaded = useSession((s) => s.loaded!);
  const pose = useSession((s) => s.pose);
  const sculpting = useSession((s) => s.sculpt !== null);
  const [shown, setShown] = useState(0);
  const { attempt, say, told: refused } = useAttempt();
  const [told, setTold] = useState("");
  const work = useWork("No poses could be proposed.");
  const { enqueueSnackbar } = useSnackbar();
  const { skeleton } = loaded.character;
  const joint = set.joints[Math.min(shown, set.joints.length - 1)]!;
  const map = useMemo(
    () => swingMapAt(skeleton!, jointIndexOf(skeleton!, joint.joint), joint.along),
    [skeleton, joint],
  );
  const motions = useMemo(() => loaded.motions.filter((m) => m.joint === joint.joint), [loaded, joint]);
  const turns = useMemo(() => turnsIn(set, pose), [set, pose]);
  const ready = useMemo(() => readySamples(set), [set]);
  const weights = ready?.weightsAt(turns);
  const twist = twistDegrees(turns[set.joints.indexOf(joint)]!, joint.along);
  const twists = twistRange(motions, joint.along);
  const turnNow = turns[set.joints.indexOf(joint)]!;
  const untwisted = multiplyQuat(turnNow, conjugate(twistOf(joint.along, turnNow)));
  const stand = (name: string): void => {
    if (sculpting) return;
    const to = set.samples.find((s) => s.name === name)?.turns ?? set.joints.map((): Quat => [0, 0, 0, 1]);
    const angles = Object.fromEntries(set.joints.map((j, i) => [j.joint, toEulerXYZ(to[i]!)]));
    setView(store, { pose: { ...store.getState().pose, ...angles } });
  };
  const swing = (turn: Quat): void => {
    if (!sculpting) setView(store, { pose: { ...store.getState().pose, [joint.joint]: toEulerXYZ(turn) } });
  };
  const words = swingWords(map, turns[set.joints.indexOf(joint)]!);
  const sample = async (shaped: boolean): Promise<void> => {
    const stands = `${words}${Math.abs(twist) >= 5 ? ` twist ${Math.round(twist)}°` : ""}`;
    const made = await sampleStep(loaded, set, pose, { sample: stands, shape: `${joint.joint} ${stands}` }, shaped);
    if (!(await addStep(made.step, made.blobs))) return;
    onKept?.();
  };
  const propose = async (): Promise<void> => {
    setTold("");
    const made = await work.during("Looking at poses over the whole swing", (progress, signal) =>
      startJob(loaded, "propose samples", { set: written(set), profile: "realtime" }, { progress, signal }).then(
        (proposal) => ({ proposal }),
      ),
    );
    if (!made) return;
    if (!made.proposal) return setTold("Nothing is over a limit anywhere in its range: no pose is proposed.");
    const { looked, before, after } = made.proposal;
    const { step, blobs } = await proposedSamplesStep(loaded.character, made.proposal);
    if (!(await addStep(step, blobs))) return;
    enqueueSnackbar(
      `Of ${looked} poses, ${before} were over a limit; ${after || "none"} ${after === 1 ? "is" : "are"} now.`,
      { variant: "info" },
    );
    onKept?.();
  };
  const sculptAgain = (shape: string, name: string): void => {
    stand(name);
    beginSculpt(store, motion, shape);
  };
  const method = useSession((s) => s.method);
  const change = (to: Partial<SampleSet>): void =>
    void attempt(async () => {
      const made = await weighedStep(loaded, { ...set, ...to }, method);
      if (await addStep(made.step, made.blobs)) say(made.told ?? "");
    });
  const mirror = async (): Promise<void> => {
    const made = await mirrorSamplesStep(loaded.character, set);
    await addStep(made.step, made.blobs);
    if (made.unmatched) say(`Mirrored; ${made.unmatched} vertices have no counterpart and were left out.`);
  };
  return (
    <div className="corrective" role="group" aria-label={`Sampled poses ${set.name}`}>
      <ItemHead
        name={set.name}
        enabled={set.enabled}
        {...(kept ? { onEnabled: (enabled: boolean) => change({ enabled }) } : {})}>
        {set.joints.length > 1 && (
          <Segmented
            label="Joint of the chart"
            options={set.joints.map((j) => j.joint)}
            value={joint.joint}
            onChange={(j) => setShown(set.joints.findIndex((o) => o.joint === j))}
          />
        )}
      </ItemHead>
      <div className="samples">
        <div>
          <div className="line one-row gap-4">
            <SwingChart
              set={set}
              joint={set.joints.indexOf(joint)}
              map={map}
              motions={motions}
              turns={turns}
              onSwing={swing}
              onSample={stand}
            />
            <TwistScale
              joint={joint.joint}
              min={twists.min}
              max={twists.max}
              twist={twist}
              samples={set.samples.map((s) => ({
                name: s.name,
                twist: twistDegrees(s.turns[set.joints.indexOf(joint)]!, joint.along),
              }))}
              onPick={(degrees) => swing(multiplyQuat(untwisted, fromAxisAngle(joint.along, degrees)))}
            />
          </div>
          <p className="muted t-small m-0">
            now {words}, twist {Math.round(twist) + 0}°; weights in percent
          </p>
        </div>
        <div className="stack gap-4 grow">
          {[{ name: "rest", shape: null }, ...set.samples].map((s, i) => (
            <div key={s.name} className="sample-line t-small">
              <button type="button" className="plain grow over-hidden ellipsis nowrap" onClick={() => stand(s.name)}>
                {s.name}
              </button>
              <span className="mono muted nowrap rigid">{(weights?.[i] ?? 0).toFixed(2)}</span>
              {i > 0 && s.shape !== null && (
                <Button
                  disabled={sculpting}
                  aria-label={`Sculpt ${s.name}`}
                  onClick={() => attempt(() => sculptAgain(s.shape!, s.name))}>
                  Sculpt
                </Button>
              )}
              {i > 0 && s.shape === null && <span className="muted nowrap p-0-8">as skinned</span>}
              {i > 0 && (
                <Button
                  disabled={sculpting}
                  aria-label={`Take out ${s.name}`}
                  onClick={() => attempt(() => addStep(withoutSampleStep(set, s.name)))}>
                  Out
                </Button>
              )}
            </div>
          ))}
          <div className="line ml-n8">
            <Button
              variant={kept ? "text" : "contained"}
              disabled={sculpting}
              title="Adds this pose with a shape of its own, which begins as the skin is here now"
              onClick={() => attempt(() => sample(true))}>
              Sample this pose
            </Button>
            <Button
              disabled={sculpting}
              title="Adds this pose without a shape: no corrective acts in it"
              onClick={() => attempt(() => sample(false))}>
              Keep it as skinned
            </Button>
            {set.samples.length === 0 && set.joints.length === 1 && (
              <Button
                disabled={sculpting || work.running !== null}
                title="Looks at poses all over the range, sculpts the worst by measure and samples it, until none is over a limit"
                onClick={() => void propose()}>
                Propose over the whole swing
              </Button>
            )}
          </div>
          {work.running && <Progress {...work.running} onCancel={work.cancel} />}
          {(told || work.refusal) && (
            <p className="muted t-small m-0" role="status">
              {told || work.refusal}
            </p>
          )}
        </div>
      </div>
      {kept && (
        <div className="line t-small gap-14">
          <Segmented
            label="Kernel"
            options={SAMPLE_KERNELS}
            value={set.kernel}
            onChange={(kernel) => change({ kernel })}
          />
          {set.kernel !== "linear" && (
            <span className="nowrap">
              radius{" "}
              <ScrubCommit
                label={`${set.name}: radius`}
                value={set.radiusDegrees}
                min={5}
                max={180}
                step={1}
                digits={0}
                unit="°"
                start={60}
                onSet={(radiusDegrees) => change({ radiusDegrees })}
              />
            </span>
          )}
          <span className="nowrap">
            twist counts{" "}
            <ScrubCommit
              label={`${set.name}: twist counts`}
              value={set.twistShare}
              min={0}
              max={1}
              step={0.01}
              start={0.5}
              onSet={(twistShare) => change({ twistShare })}
            />
          </span>
          <GroupSelect of={set.name} group={set.group} onSet={(group) => change({ group })} />
        </div>
      )}
      {kept && (
        <div className="line ml-n8">
          <Button disabled={sculpting} onClick={() => attempt(mirror)}>
            Mirror to the other side
          </Button>
          <Button disabled={sculpting} onClick={() => attempt(() => addStep({ op: "remove samples", name: set.name }))}>
            Remove with its shapes
          </Button>
        </div>
      )}
      {refused}
    </div>
  );
}

/** How far a bone turns about itself, degrees: as its motion says, else as a quarter turn to either side. */
function twistRange(motions: readonly JointMotion[], along: Vec3): { readonly min: number; readonly max: number } {
  const own = motions.find((m) => Math.abs(dot(m.axis, along)) > 0.9);
  if (!own) return { min: -90, max: 90 };
  return dot(own.axis, along) > 0 ? own : { min: -own.max, max: -own.min };
}
