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
import { useAttempt, type Attempt } from "../useAttempt";
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
  const { addStep } = useDesk();
  const loaded = useSession((s) => s.loaded!);
  const pose = useSession((s) => s.pose);
  const method = useSession((s) => s.method);
  const sculpting = useSession((s) => s.sculpt !== null);
  const [shown, setShown] = useState(0);
  const { attempt, say, told } = useAttempt();
  const at = Math.min(shown, set.joints.length - 1);
  const stand = useStand(set, sculpting);
  const turns = useMemo(() => turnsIn(set, pose), [set, pose]);
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
            value={set.joints[at]!.joint}
            onChange={(j) => setShown(set.joints.findIndex((o) => o.joint === j))}
          />
        )}
      </ItemHead>
      <div className="samples">
        <JointChart set={set} at={at} turns={turns} sculpting={sculpting} onStand={stand} />
        <div className="stack gap-4 grow">
          <SampleList set={set} motion={motion} turns={turns} sculpting={sculpting} onStand={stand} attempt={attempt} />
          <NewSample
            set={set}
            at={at}
            turns={turns}
            kept={kept}
            sculpting={sculpting}
            attempt={attempt}
            onKept={() => onKept?.()}
          />
        </div>
      </div>
      {kept && <SampleSettings set={set} onChange={change} />}
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
      {told}
    </div>
  );
}

/** Stands the figure in a sample's pose, unless a sculpt holds it where it is. */
function useStand(set: SampleSet, sculpting: boolean): (sample: string) => void {
  const store = useSessionStore();
  return (name) => {
    if (sculpting) return;
    const to = set.samples.find((s) => s.name === name)?.turns ?? set.joints.map((): Quat => [0, 0, 0, 1]);
    const angles = Object.fromEntries(set.joints.map((j, i) => [j.joint, toEulerXYZ(to[i]!)]));
    setView(store, { pose: { ...store.getState().pose, ...angles } });
  };
}

/** The map of directions of one joint of a set. */
function useSwingMap({ joint, along }: SampleSet["joints"][number]): ReturnType<typeof swingMapAt> {
  const skeleton = useSession((s) => s.loaded!.character.skeleton!);
  return useMemo(() => swingMapAt(skeleton, jointIndexOf(skeleton, joint), along), [skeleton, joint, along]);
}

interface JointChartProps {
  readonly set: SampleSet;
  /** Which of the set's joints is shown. */
  readonly at: number;
  readonly turns: readonly Quat[];
  readonly sculpting: boolean;
  readonly onStand: (sample: string) => void;
}

/** Directions and twist of one joint, with the samples on them; the joint is led there. */
function JointChart({ set, at, turns, sculpting, onStand }: JointChartProps): ReactNode {
  const store = useSessionStore();
  const all = useSession((s) => s.loaded!.motions);
  const { joint, along } = set.joints[at]!;
  const map = useSwingMap(set.joints[at]!);
  const motions = useMemo(() => all.filter((m) => m.joint === joint), [all, joint]);
  const turn = turns[at]!;
  const twist = twistDegrees(turn, along);
  const range = twistRange(motions, along);
  const untwisted = multiplyQuat(turn, conjugate(twistOf(along, turn)));
  const swing = (to: Quat): void => {
    if (!sculpting) setView(store, { pose: { ...store.getState().pose, [joint]: toEulerXYZ(to) } });
  };
  return (
    <div>
      <div className="line one-row gap-4">
        <SwingChart set={set} joint={at} map={map} motions={motions} turns={turns} onSwing={swing} onSample={onStand} />
        <TwistScale
          joint={joint}
          min={range.min}
          max={range.max}
          twist={twist}
          samples={set.samples.map((s) => ({ name: s.name, twist: twistDegrees(s.turns[at]!, along) }))}
          onPick={(degrees) => swing(multiplyQuat(untwisted, fromAxisAngle(along, degrees)))}
        />
      </div>
      <p className="muted t-small m-0">
        now {swingWords(map, turn)}, twist {Math.round(twist) + 0}°; weights in percent
      </p>
    </div>
  );
}

interface SampleListProps {
  readonly set: SampleSet;
  readonly motion: JointMotion;
  readonly turns: readonly Quat[];
  readonly sculpting: boolean;
  readonly onStand: (sample: string) => void;
  readonly attempt: Attempt["attempt"];
}

/** Rest and the samples, each with its weight in the pose on the stage. */
function SampleList({ set, motion, turns, sculpting, onStand, attempt }: SampleListProps): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const weights = useMemo(() => readySamples(set), [set])?.weightsAt(turns);
  return [{ name: "rest", shape: null }, ...set.samples].map((s, i) => (
    <div key={s.name} className="sample-line t-small">
      <button type="button" className="plain grow over-hidden ellipsis nowrap" onClick={() => onStand(s.name)}>
        {s.name}
      </button>
      <span className="mono muted nowrap rigid">{(weights?.[i] ?? 0).toFixed(2)}</span>
      {i > 0 && s.shape !== null && (
        <Button
          disabled={sculpting}
          aria-label={`Sculpt ${s.name}`}
          onClick={() =>
            attempt(() => {
              onStand(s.name);
              beginSculpt(store, motion, s.shape!);
            })
          }>
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
  ));
}

interface NewSampleProps {
  readonly set: SampleSet;
  readonly at: number;
  readonly turns: readonly Quat[];
  readonly kept: boolean;
  readonly sculpting: boolean;
  readonly attempt: Attempt["attempt"];
  readonly onKept: () => void;
}

/** The pose on the stage becomes a sample; or the worst poses of the whole swing do. */
function NewSample({ set, at, turns, kept, sculpting, attempt, onKept }: NewSampleProps): ReactNode {
  const { addStep } = useDesk();
  const loaded = useSession((s) => s.loaded!);
  const pose = useSession((s) => s.pose);
  const { running, cancel, told, propose } = useSampleProposal(set, onKept);
  const { joint, along } = set.joints[at]!;
  const map = useSwingMap(set.joints[at]!);
  const sample = async (shaped: boolean): Promise<void> => {
    const twist = twistDegrees(turns[at]!, along);
    const stands = `${swingWords(map, turns[at]!)}${Math.abs(twist) >= 5 ? ` twist ${Math.round(twist)}°` : ""}`;
    const made = await sampleStep(loaded, set, pose, { sample: stands, shape: `${joint} ${stands}` }, shaped);
    if (await addStep(made.step, made.blobs)) onKept();
  };
  return (
    <>
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
            disabled={sculpting || running !== null}
            title="Looks at poses all over the range, sculpts the worst by measure and samples it, until none is over a limit"
            onClick={() => void propose()}>
            Propose over the whole swing
          </Button>
        )}
      </div>
      {running && <Progress {...running} onCancel={cancel} />}
      {told && (
        <p className="muted t-small m-0" role="status">
          {told}
        </p>
      )}
    </>
  );
}

interface SampleProposal {
  readonly running: ReturnType<typeof useWork>["running"];
  readonly cancel: () => void;
  /** What came of it, where nothing was kept. */
  readonly told: string;
  readonly propose: () => Promise<void>;
}

/** Looks for the worst poses of a set's swing, and keeps what was sculpted in them as one step. */
function useSampleProposal(set: SampleSet, onKept: () => void): SampleProposal {
  const { addStep } = useDesk();
  const { enqueueSnackbar } = useSnackbar();
  const loaded = useSession((s) => s.loaded!);
  const [told, setTold] = useState("");
  const work = useWork("No poses could be proposed.");
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
    onKept();
  };
  return { running: work.running, cancel: work.cancel, told: told || work.refusal, propose };
}

interface SampleSettingsProps {
  readonly set: SampleSet;
  readonly onChange: (to: Partial<SampleSet>) => void;
}

/** How samples are weighed against each other, and the set's group. */
function SampleSettings({ set, onChange }: SampleSettingsProps): ReactNode {
  return (
    <div className="line t-small gap-14">
      <Segmented
        label="Kernel"
        options={SAMPLE_KERNELS}
        value={set.kernel}
        onChange={(kernel) => onChange({ kernel })}
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
            onSet={(radiusDegrees) => onChange({ radiusDegrees })}
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
          onSet={(twistShare) => onChange({ twistShare })}
        />
      </span>
      <GroupSelect of={set.name} group={set.group} onSet={(group) => onChange({ group })} />
    </div>
  );
}

/** How far a bone turns about itself, degrees: as its motion says, else as a quarter turn to either side. */
function twistRange(motions: readonly JointMotion[], along: Vec3): { readonly min: number; readonly max: number } {
  const own = motions.find((m) => Math.abs(dot(m.axis, along)) > 0.9);
  if (!own) return { min: -90, max: 90 };
  return dot(own.axis, along) > 0 ? own : { min: -own.max, max: -own.min };
}
