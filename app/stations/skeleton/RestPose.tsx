import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { Pose } from "~core/evaluate/poseSkeleton";
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
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const pose = useSession((s) => s.pose);
  const { addStep } = useDesk();
  const [below, setBelow] = useState(40);
  const [raise, setRaise] = useState(8);
  const [spread, setSpread] = useState(5);
  const [knees, setKnees] = useState(4);
  const [feet, setFeet] = useState(7);
  const [found, setFound] = useState<{ pose: Pose; error: RebindError } | null>(null);
  const [refusal, setRefusal] = useState("");
  const work = useJob("The binding could not be measured.");
  if (!loaded?.character.skeleton)
    return <p className="p-8-18">This delivery has no skeleton, so it has no rest pose.</p>;
  const turned = Object.entries(pose).filter(([, a]) => a.some((x) => Math.abs(x) > 0.005));
  const take = (made: () => Pose): void => {
    try {
      setRefusal("");
      setView(store, { pose: made() });
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : "The limbs could not be turned.");
    }
  };
  const { character } = loaded;
  const measure = async (): Promise<void> => {
    setRefusal("");
    const error = await work.run("Posing with both bindings", "rebinding", { pose });
    if (error) setFound({ pose, error });
  };
  const known = found?.pose === pose ? found.error : null;
  const bind = async (): Promise<void> => {
    if (
      await addStep({
        op: "bind in pose",
        pose: Object.fromEntries(turned.map(([j, a]) => [j, [...a] as [number, number, number]])),
      })
    )
      setView(store, { pose: {} });
  };
  const keep = async (): Promise<void> => {
    const turns = spaceTurns(character.skeleton!, pose);
    if (
      await addStep({
        op: "retarget pose",
        turns: Object.fromEntries(
          Object.entries(turns).map(([j, q]) => [j, [...q] as [number, number, number, number]]),
        ),
      })
    )
      setView(store, { pose: {} });
  };
  return (
    <div className="sheet-body p-10-18 stack gap-12 content-start">
      <p className="m-0">
        Pose the figure here or under Joints; then bind it so. The mesh takes the posed form, every shape is turned with
        it, and clips keep their movement.
      </p>
      <div className="line">
        <Button onClick={() => take(() => armsAt(character, 0, pose))}>Arms level</Button>
        <Button onClick={() => take(() => armsAt(character, below, pose))}>Arms below level by</Button>
        <ScrubField
          label="Arms below level"
          value={below}
          min={-20}
          max={85}
          step={1}
          digits={0}
          unit="°"
          start={40}
          onChange={setBelow}
        />
        <Button onClick={() => take(() => collarBonesAt(character, raise, pose))}>Collar bones raised by</Button>
        <ScrubField
          label="Collar bones raised"
          value={raise}
          min={-10}
          max={35}
          step={1}
          digits={0}
          unit="°"
          start={8}
          onChange={setRaise}
        />
      </div>
      <div className="line">
        <Button onClick={() => take(() => legsAt(character, spread, knees, pose))}>Legs down, apart by</Button>
        <ScrubField
          label="Legs apart"
          value={spread}
          min={-10}
          max={45}
          step={1}
          digits={0}
          unit="°"
          start={5}
          onChange={setSpread}
        />
        <span className="t-small">knees bent</span>
        <ScrubField
          label="Knees bent"
          value={knees}
          min={0}
          max={60}
          step={0.5}
          digits={1}
          unit="°"
          start={4}
          onChange={setKnees}
        />
        <Button onClick={() => take(() => feetAt(character, feet, pose))}>Feet turned out by</Button>
        <ScrubField
          label="Feet turned out"
          value={feet}
          min={-30}
          max={45}
          step={1}
          digits={0}
          unit="°"
          start={7}
          onChange={setFeet}
        />
        <span className="grow" />
        <Button disabled={turned.length === 0} onClick={() => setView(store, { pose: {} })}>
          Back to rest
        </Button>
      </div>
      {turned.length > 0 && <LimbContacts />}
      {turned.length > 0 ? (
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
      ) : (
        <p className="muted m-0">The figure stands at rest: there is nothing to bind anew.</p>
      )}
      {work.running ? (
        <Progress {...work.running} onCancel={work.cancel} />
      ) : (
        <div className="line">
          <Button
            variant={known ? "outlined" : "contained"}
            disabled={turned.length === 0}
            onClick={() => void measure()}>
            Measure the binding
          </Button>
          <Button variant={known ? "contained" : "outlined"} disabled={!known} onClick={() => void bind()}>
            Bind in this pose
          </Button>
          <Button
            variant="outlined"
            disabled={turned.length === 0}
            title="Mesh and rest stay; clips of other skeletons are taken as if their rest were this pose"
            onClick={() => void keep()}>
            Keep for retargeting only
          </Button>
        </div>
      )}
      {character.retargetPose && (
        <div className="line t-small">
          <span className="grow">
            A pose of {counted(Object.keys(character.retargetPose).length, "joints")} is kept for clips of other
            skeletons.
          </span>
          <Button onClick={() => setView(store, { pose: poseOfTurns(character.skeleton!, character.retargetPose!) })}>
            Show it
          </Button>
          <Button onClick={() => void addStep({ op: "retarget pose", turns: null })}>Drop it</Button>
        </div>
      )}
      {known && (
        <p role="status" className="m-0 t-small">
          {errorWords(known)}
        </p>
      )}
      {(refusal || work.refusal) && (
        <div className="refusal" role="alert">
          {refusal || work.refusal}
        </div>
      )}
      {turned.length > 0 && (
        <p className="muted m-0 t-small">
          {counted(loaded.character.shapes.length, "shapes")} and{" "}
          {counted(loaded.character.drivers.length, "correctives")} go along. It is one step and can be undone.
        </p>
      )}
      <h2 className="m-8-0-0 t-head">The skeleton in the mesh</h2>
      <HingeBend character={character} />
      <h2 className="m-8-0-0 t-head">Joints of other builds</h2>
      <RefitShapes />
    </div>
  );
}

const errorWords = ({ largestMm, pose, rmsMm }: RebindError): string =>
  pose === null || largestMm < 0.005
    ? "The new binding is the same in every pose."
    : "At rest and where one joint holds the skin nothing changes. Over all ranges the two bindings " +
      `differ by ${rmsMm.toFixed(2)} mm (rms), at most ${largestMm.toFixed(1)} mm, at ${pose.label} ${pose.degrees}°.`;
