import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { SmallSelect } from "../../ui/SmallSelect";
import { driverAngle, driverWeightAt, EASINGS } from "~core/evaluate/drivers/driverWeight";
import type { Driver, Easing } from "~core/model/character";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { poseMotion } from "../../session/posing";
import { driverStep } from "../../session/driverStep";
import { rangeOn } from "../../session/motionScore";
import { beginSculpt, mirrorStep } from "../../session/sculpt";
import { useSession, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { ScrubField } from "../../ui/ScrubField";
import { ItemActions } from "./ItemActions";
import { ItemHead } from "./ItemHead";
import { useAttempt } from "./useAttempt";
import { DriverCurve } from "./DriverCurve";
import { asPoseDriver, driveStep } from "../../session/poseDrivers";

/** One corrective: switch, what drives it, and what can be done with it. */
export function CorrectiveItem({ driver, motion }: { driver: Driver; motion: JointMotion }): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const pose = useSession((s) => s.pose);
  const method = useSession((s) => s.method);
  const sculpting = useSession((s) => s.sculpt !== null);
  // what is being dragged, until the ledger has it
  const [edit, setEdit] = useState<{ of: Driver; change: Partial<Driver> }>({ of: driver, change: {} });
  const draft = edit.of === driver ? { ...driver, ...edit.change } : driver;
  const { attempt, say, told } = useAttempt();
  const name = driver.shape;
  const weight = driverWeightAt(driver, driverAngle(driver, pose));
  const set = async (change: Partial<Omit<Driver, "shape" | "axis">>): Promise<void> => {
    const made = await driverStep(store.getState().loaded!, name, change, method);
    if (await addStep(made.step, made.blobs)) say(made.told ?? "");
  };
  const again = (): void => {
    if (weight < 0.1) poseMotion(store, motion, rangeOn(driver, motion)!.to);
    beginSculpt(store, motion, name);
  };
  const mirror = async (): Promise<void> => {
    const made = await mirrorStep(store.getState().loaded!.character, name);
    if (await addStep(made.step, made.blobs))
      say(
        made.unmatched
          ? `Mirrored; ${made.unmatched} vertices have no counterpart on the other side and were left out.`
          : "",
      );
  };
  return (
    <div className="corrective" role="group" aria-label={`Corrective ${name}`}>
      <ItemHead name={name} enabled={driver.enabled} onEnabled={(enabled) => set({ enabled })}>
        <span className="mono muted nowrap">now at {weight.toFixed(2)}</span>
      </ItemHead>
      <DriverFields driver={driver} draft={draft} onDraft={(change) => setEdit({ of: driver, change })} set={set} />
      <ItemActions name={name} onSculpt={() => attempt(again)} onMirror={() => attempt(mirror)}>
        <Button
          disabled={sculpting}
          title="By a curve of many points, near a direction, together with other joints, or with an effort"
          onClick={() => void addStep(driveStep(asPoseDriver(driver)))}>
          Drive it by more
        </Button>
      </ItemActions>
      {told}
    </div>
  );
}

interface DriverFieldsProps {
  readonly driver: Driver;
  readonly draft: Driver;
  readonly onDraft: (change: Partial<Driver>) => void;
  readonly set: (change: Partial<Omit<Driver, "shape" | "axis">>) => Promise<void>;
}
/** The driver's range, easing and intensity, with its curve. */
function DriverFields({ driver, draft, onDraft, set }: DriverFieldsProps): ReactNode {
  const pose = useSession((s) => s.pose);
  const method = useSession((s) => s.method);
  const sculpting = useSession((s) => s.sculpt !== null);
  const name = driver.shape;
  const degrees = (key: "fromDegrees" | "toDegrees", label: string): ReactNode => (
    <span>
      {label}{" "}
      <ScrubField
        label={`${name}: ${label}`}
        value={draft[key]}
        min={-180}
        max={180}
        step={1}
        digits={0}
        unit="°"
        start={driver[key]}
        onChange={(x) => onDraft({ [key]: x })}
        onCommit={(x) => x !== driver[key] && set({ [key]: x })}
      />
    </span>
  );
  return (
    <div className="line t-small gap-14 one-row align-flex-start mt-2">
      <DriverCurve driver={draft} angle={driverAngle(driver, pose)} />
      <div className="stack gap-4">
        <span className="line gap-14">
          {degrees("fromDegrees", "from")} {degrees("toDegrees", "to")}
        </span>
        <span className="line gap-14">
          <SmallSelect
            label={`${name}: easing`}
            value={driver.easing}
            disabled={sculpting}
            onChange={(value) => set({ easing: value })}
            options={Object.keys(EASINGS) as Easing[]}
          />
          <span>
            intensity{" "}
            <ScrubField
              label={`${name}: intensity`}
              value={draft.intensity}
              min={0}
              max={2}
              step={0.01}
              start={1}
              onChange={(intensity) => onDraft({ intensity })}
              onCommit={(intensity) => intensity !== driver.intensity && set({ intensity })}
            />
          </span>
        </span>
        {draft.method && draft.method !== method && (
          <span className="ink-amber">
            ◆ sculpted under {METHOD_WORDS[draft.method]} skinning; what is shown and measured now is{" "}
            {METHOD_WORDS[method]}
          </span>
        )}
        <span className="muted">
          turn of <span className="mono">{driver.joint}</span> about {axisWord(driver.axis)}
        </span>
      </div>
    </div>
  );
}

const METHOD_WORDS = { linear: "linear", dual: "dual quaternion" } as const;
const axisWord = (axis: readonly number[]): string => {
  const k = axis.findIndex((x) => Math.abs(x) > 0.999);
  return k >= 0
    ? `its ${axis[k]! < 0 ? "-" : ""}${"XYZ"[k]} axis`
    : `its axis ${axis.map((x) => x.toFixed(2)).join(", ")}`;
};
