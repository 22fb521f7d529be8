import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Pose } from "~core/evaluate/poseSkeleton";
import type { Step } from "~core/ledger/steps";
import type { Character, Skeleton } from "~core/model/character";
import { isUserError } from "~core/model/userError";
import { armsAt } from "~core/skeleton/rebind";
import { type RebindError } from "~core/measure/rebindError";
import { poseOfTurns, spaceTurns } from "~core/skeleton/retargetPose";
import { collarBonesAt, feetAt, legsAt } from "~core/skeleton/restPoses";
import { useJob } from "../../session/jobs/useJob";
import { useSession, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { counted } from "../../ui/counted";
import { Progress } from "../../ui/Progress";
import { Refused } from "../../ui/Refused";
import { HingeBend } from "./HingeBend";
import { LimbContacts } from "./LimbContacts";
import { RefitShapes } from "./RefitShapes";
import { ScrubField } from "../../ui/ScrubField";
import { setView } from "../../session/slices/view";

/**
 * The pose on the stage becomes the rest pose: mesh, shapes and skeleton are bound in it; what that costs in other
 * poses is measured first.
 */
export function RestPose(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  if (!loaded?.character.skeleton)
    return <p className="p-8-18">This delivery has no skeleton, so it has no rest pose.</p>;
  const { character } = loaded;
  return (
    <div className="sheet-body p-10-18 stack gap-12 content-start">
      <p className="m-0">
        Pose the figure here or under Joints; then bind it so. The mesh takes the posed form, every shape is turned with
        it, and clips keep their movement.
      </p>
      <BindPose character={character} skeleton={character.skeleton!} />
      <h2 className="m-8-0-0 t-head">The skeleton in the mesh</h2>
      <HingeBend character={character} />
      <h2 className="m-8-0-0 t-head">Joints of other builds</h2>
      <RefitShapes />
    </div>
  );
}

interface BindPoseProps {
  readonly character: Character;
  readonly skeleton: Skeleton;
}

/** Standing the limbs, what is turned, and binding in that pose. */
function BindPose({ character, skeleton }: BindPoseProps): ReactNode {
  const store = useSessionStore();
  const pose = useSession((s) => s.pose);
  const { addStep } = useDesk();
  const [found, setFound] = useState<{ pose: Pose; error: RebindError } | null>(null);
  const [refusal, setRefusal] = useState("");
  const work = useJob("The binding could not be measured.");
  const turned = Object.entries(pose).filter(([, a]) => a.some((x) => Math.abs(x) > 0.005));
  const take = (made: () => Pose): void => {
    try {
      setRefusal("");
      setView(store, { pose: made() });
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : "The limbs could not be turned.");
    }
  };
  const measure = async (): Promise<void> => {
    setRefusal("");
    const error = await work.run("Posing with both bindings", "rebinding", { pose });
    if (error) setFound({ pose, error });
  };
  const known = found?.pose === pose ? found.error : null;
  const keep = async (step: Step): Promise<void> => {
    if (await addStep(step)) setView(store, { pose: {} });
  };
  return (
    <>
      <StandLimbs character={character} pose={pose} canReset={turned.length > 0} onTake={take} />
      {turned.length > 0 && <LimbContacts />}
      <TurnedJoints turned={turned} />
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <BindButtons
          isTurned={turned.length > 0}
          isMeasured={known !== null}
          onMeasure={() => void measure()}
          onBind={() => void keep(bindStep(turned))}
          onKeep={() => void keep(retargetStep(skeleton, pose))}
        />
      )}
      {character.retargetPose && <KeptPose skeleton={skeleton} turns={character.retargetPose} />}
      {known && (
        <p role="status" className="m-0 t-small">
          {errorWords(known)}
        </p>
      )}
      <Refused why={refusal || work.refusal} />
      {turned.length > 0 && (
        <p className="muted m-0 t-small">
          {counted(character.shapes.length, "shapes")} and {counted(character.drivers.length, "correctives")} go along.
          It is one step and can be undone.
        </p>
      )}
    </>
  );
}

type Turned = readonly (readonly [joint: string, angles: Pose[string]])[];

const bindStep = (turned: Turned): Step => ({
  op: "bind in pose",
  pose: Object.fromEntries(turned.map(([j, a]) => [j, [...a] as [number, number, number]])),
});

const retargetStep = (skeleton: Skeleton, pose: Pose): Step => ({
  op: "retarget pose",
  turns: Object.fromEntries(
    Object.entries(spaceTurns(skeleton, pose)).map(([j, q]) => [j, [...q] as [number, number, number, number]]),
  ),
});

interface StandLimbsProps {
  readonly character: Character;
  readonly pose: Pose;
  readonly canReset: boolean;
  readonly onTake: (made: () => Pose) => void;
}

/** Angles that are asked for at first, degrees. */
const STARTS = { arms: 40, collars: 8, legs: 5, knees: 4, feet: 7 };

/** Arms, collar bones, legs and feet stood by angles. */
function StandLimbs({ character, pose, canReset, onTake }: StandLimbsProps): ReactNode {
  const store = useSessionStore();
  const [angles, setAngles] = useState(STARTS);
  const { arms, collars, legs, knees, feet } = angles;
  const field = (of: keyof typeof angles, label: string, min: number, max: number): ReactNode => (
    <ScrubField
      label={label}
      value={angles[of]}
      min={min}
      max={max}
      step={of === "knees" ? 0.5 : 1}
      digits={of === "knees" ? 1 : 0}
      unit="°"
      start={STARTS[of]}
      onChange={(to) => setAngles({ ...angles, [of]: to })}
    />
  );
  return (
    <>
      <div className="line">
        <Button onClick={() => onTake(() => armsAt(character, 0, pose))}>Arms level</Button>
        <Button onClick={() => onTake(() => armsAt(character, arms, pose))}>Arms below level by</Button>
        {field("arms", "Arms below level", -20, 85)}
        <Button onClick={() => onTake(() => collarBonesAt(character, collars, pose))}>Collar bones raised by</Button>
        {field("collars", "Collar bones raised", -10, 35)}
      </div>
      <div className="line">
        <Button onClick={() => onTake(() => legsAt(character, legs, knees, pose))}>Legs down, apart by</Button>
        {field("legs", "Legs apart", -10, 45)}
        <span className="t-small">knees bent</span>
        {field("knees", "Knees bent", 0, 60)}
        <Button onClick={() => onTake(() => feetAt(character, feet, pose))}>Feet turned out by</Button>
        {field("feet", "Feet turned out", -30, 45)}
        <span className="grow" />
        <Button disabled={!canReset} onClick={() => setView(store, { pose: {} })}>
          Back to rest
        </Button>
      </div>
    </>
  );
}

function TurnedJoints({ turned }: { readonly turned: Turned }): ReactNode {
  if (turned.length === 0)
    return <p className="muted m-0">The figure stands at rest: there is nothing to bind anew.</p>;
  return (
    <table className="plain t-small">
      <thead>
        <tr>
          <th>Joint turned</th>
          <th className="to-right">X°</th>
          <th className="to-right">Y°</th>
          <th className="to-right">Z°</th>
        </tr>
      </thead>
      <tbody>
        {turned.map(([joint, angles]) => (
          <tr key={joint}>
            <td className="mono">{joint}</td>
            {angles.map((a, i) => (
              <td key={i} className="num">
                {(Math.round(10 * a) / 10 + 0).toFixed(1)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface BindButtonsProps {
  readonly isTurned: boolean;
  readonly isMeasured: boolean;
  readonly onMeasure: () => void;
  readonly onBind: () => void;
  readonly onKeep: () => void;
}
function BindButtons({ isTurned, isMeasured, onMeasure, onBind, onKeep }: BindButtonsProps): ReactNode {
  return (
    <div className="line">
      <Button variant={isMeasured ? "outlined" : "contained"} disabled={!isTurned} onClick={onMeasure}>
        Measure the binding
      </Button>
      <Button variant={isMeasured ? "contained" : "outlined"} disabled={!isMeasured} onClick={onBind}>
        Bind in this pose
      </Button>
      <Button
        variant="outlined"
        disabled={!isTurned}
        title="Mesh and rest stay; clips of other skeletons are taken as if their rest were this pose"
        onClick={onKeep}>
        Keep for retargeting only
      </Button>
    </div>
  );
}

interface KeptPoseProps {
  readonly skeleton: Skeleton;
  readonly turns: NonNullable<Character["retargetPose"]>;
}
function KeptPose({ skeleton, turns }: KeptPoseProps): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  return (
    <div className="line t-small">
      <span className="grow">
        A pose of {counted(Object.keys(turns).length, "joints")} is kept for clips of other skeletons.
      </span>
      <Button onClick={() => setView(store, { pose: poseOfTurns(skeleton, turns) })}>Show it</Button>
      <Button onClick={() => void addStep({ op: "retarget pose", turns: null })}>Drop it</Button>
    </div>
  );
}

const errorWords = ({ largestMm, pose, rmsMm }: RebindError): string =>
  pose === null || largestMm < 0.005
    ? "The new binding is the same in every pose."
    : "At rest and where one joint holds the skin nothing changes. Over all ranges the two bindings " +
      `differ by ${rmsMm.toFixed(2)} mm (rms), at most ${largestMm.toFixed(1)} mm, at ${pose.label} ${pose.degrees}°.`;
