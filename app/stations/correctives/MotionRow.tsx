import Button from "@mui/material/Button";
import { useEffect, useMemo, useRef, type ReactNode } from "react";
import type { SweepRow } from "~core/measure/sweepMotion";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { actingOn, driversOn, worstOf, worstRow } from "../../session/motionScore";
import { angleAlong, poseMotion } from "../../session/posing";
import { useSession, useSessionStore } from "../../session/session";
import { LimitBar } from "../../ui/LimitBar";
import { RangeRibbon } from "../../ui/RangeRibbon";
import { ScrubField } from "../../ui/ScrubField";
import { Segmented } from "../../ui/Segmented";
import { CorrectiveItem } from "./CorrectiveItem";
import { JointReadings } from "./JointReadings";
import { SculptBench } from "./SculptBench";
import { shortLabel } from "./limbs";
import { lookAtJoint, setView } from "../../session/slices/view";
import { chooseJoint } from "../../session/slices/selection";
import { DriversHere } from "./drivers/DriversHere";

export interface MotionRowProps {
  readonly motion: JointMotion;
  readonly rows: readonly SweepRow[] | null;
  readonly open: boolean;
  readonly onOpen: () => void;
  readonly onSweep: () => void;
  readonly sweeping: boolean;
}

/**
 * One direction of a joint: its ribbon and worst value; opened, the pose, its readings, the sculpting tools, its
 * correctives.
 */
export function MotionRow({ motion, rows, open, onOpen, onSweep, sweeping }: MotionRowProps): ReactNode {
  const store = useSessionStore();
  const character = useSession((s) => s.loaded!.character);
  const pose = useSession((s) => s.pose);
  const sculpting = useSession((s) => s.sculpt !== null);
  const drivers = useMemo(() => driversOn(character, motion), [character, motion]);
  const readings = useMemo(
    () => (rows ?? []).map((r) => ({ angle: r.angle, share: Math.min(1, worstOf(r.with).times / 2) })),
    [rows],
  );
  const brackets = useMemo(() => actingOn(character, motion).flatMap((a) => a.range ?? []), [character, motion]);
  const angle = angleAlong(motion, pose);
  const box = useRef<HTMLDivElement>(null);
  const toggle = (): void => {
    if (sculpting) return;
    onOpen();
    if (!open) lookAtJoint(store, motion.joint);
  };
  useEffect(() => {
    if (!open) return;
    box.current?.scrollIntoView({ block: "nearest" });
    if (store.getState().joint !== motion.joint) chooseJoint(store, motion.joint);
  }, [open, motion.joint, store]);
  return (
    <div ref={box} className={`row${open ? " open" : ""}`}>
      <div className="row-line" onClick={toggle}>
        <button
          type="button"
          className="plain grow max-w-128 min-w-128 over-hidden ellipsis nowrap"

          aria-expanded={open}
          title={motion.joint}
          disabled={sculpting && !open}>
          {shortLabel(motion)}
        </button>
        <RangeRibbon
          label={`${motion.label}, degrees`}
          min={motion.min}
          max={motion.max}
          readings={readings}
          angle={open || angle !== 0 ? angle : null}
          brackets={brackets}
          onPick={(a) => poseMotion(store, motion, a)}
        />
        <WorstValue rows={rows} />
      </div>
      {open && (
        <div className="row-body stack gap-12">
          <div className="two">
            <PoseFields motion={motion} angle={angle} />
            <AtThisAngle swept={rows !== null} disabled={sweeping || sculpting} onSweep={onSweep} />
          </div>
          <SculptBench motion={motion} />
          {drivers.length > 0 && (
            <div>
              <p className="label">Correctives of this direction</p>
              {drivers.map((d) => (
                <CorrectiveItem key={d.shape} driver={d} motion={motion} />
              ))}
            </div>
          )}
          <DriversHere motion={motion} />
        </div>
      )}
    </div>
  );
}

interface WorstValueProps {
  readonly rows: readonly SweepRow[] | null;
}
function WorstValue({ rows }: WorstValueProps): ReactNode {
  const worst = useMemo(() => rows && worstRow(rows, "with"), [rows]);
  return (
    <span className="wide-186 rigid to-right">
      {worst ? (
        <LimitBar
          value={worst.excess.times}
          limit={1}
          text={worst.excess.text}
          verdict={worst.excess.times > 2 ? "error" : worst.excess.times > 1 ? "warn" : "fine"}
          width={46}
        />
      ) : (
        <span className="muted mono">{rows ? "bends no skin" : "not swept"}</span>
      )}
    </span>
  );
}

interface PoseFieldsProps {
  readonly motion: JointMotion;
  readonly angle: number;
}
/** Its angle, and how skin is blended. */
function PoseFields({ motion, angle }: PoseFieldsProps): ReactNode {
  const store = useSessionStore();
  const method = useSession((s) => s.method);
  const sculpting = useSession((s) => s.sculpt !== null);
  return (
    <div>
      <p className="label">Angle</p>
      <div className="line">
        <span className="big">
          <ScrubField
            label={`Angle of ${motion.label}`}
            value={angle}
            min={motion.min}
            max={motion.max}
            step={1}
            digits={0}
            unit="°"
            onChange={(a) => poseMotion(store, motion, a)}
          />
        </span>
        <span className="muted t-12">
          of {motion.min}° to {motion.max}°
        </span>
      </div>
      <p className="label mt-8">Skinning</p>
      <Segmented
        label="Skinning"
        options={["linear", "dual"] as const}
        value={method}
        onChange={(m) => !sculpting && setView(store, { method: m })}
        names={{ dual: "dual quaternion" }}
      />
    </div>
  );
}

interface AtThisAngleProps {
  readonly swept: boolean;
  readonly disabled: boolean;
  readonly onSweep: () => void;
}
function AtThisAngle({ swept, disabled, onSweep }: AtThisAngleProps): ReactNode {
  return (
    <div>
      <p className="label">At this angle</p>
      <JointReadings />
      <Button onClick={onSweep} disabled={disabled} sx={{ mt: 0.5, ml: -1 }}>
        {swept ? "Sweep again" : "Sweep the whole range"}
      </Button>
    </div>
  );
}
