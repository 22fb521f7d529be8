import Button from "@mui/material/Button";
import type { ReactNode } from "react";
import { fullMoment } from "~core/evaluate/drivers/fullMoment";
import { TERM_RULES, type PoseDriver } from "~core/model/poseDriver";
import type { DriverTerm } from "~core/model/terms/driverTerms";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { readingsStep } from "../../../session/driverStep";
import { directionNow, mirrorDriverStep } from "../../../session/poseDrivers";
import { beginSculpt } from "../../../session/sculpt";
import { useSession, useSessionStore } from "../../../session/session";
import { setView } from "../../../session/slices/view";
import { useDesk } from "../../../session/useDesk";
import { ScrubCommit } from "../../../ui/ScrubCommit";
import { Segmented } from "../../../ui/Segmented";
import { ItemActions } from "../ItemActions";
import { ItemHead } from "../ItemHead";
import { useAttempt } from "../useAttempt";
import { GroupSelect } from "./GroupSelect";
import { TermRow } from "./TermRow";
import { useDriven, useTermView } from "./useDriven";

/** A corrective set by one to four readings of a pose: each with its picture, and how they count together. */
export function PoseDriverItem({ driver, motion }: { driver: PoseDriver; motion: JointMotion }): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const sculpting = useSession((s) => s.sculpt !== null);
  const driven = useDriven();
  const view = useTermView();
  const { attempt, say, told } = useAttempt();
  const name = driver.shape;
  const method = useSession((s) => s.method);
  const set = (change: Partial<PoseDriver>, controls: readonly string[] = []): void =>
    void attempt(async () => {
      const made = await readingsStep(store.getState().loaded!, { ...driver, ...change }, method, controls);
      if (await addStep(made.step, made.blobs)) say(made.told ?? "");
    });
  const setTerm = (at: number, term: DriverTerm): void =>
    set({ terms: driver.terms.map((t, i) => (i === at ? term : t)) });
  const again = (): void => {
    const { loaded } = store.getState();
    const full = fullMoment(loaded!.character, name);
    if (full && driven(name) < 0.1) setView(store, { pose: full.pose, weights: full.weights });
    beginSculpt(store, motion, name);
  };
  const mirror = async (): Promise<void> => {
    const made = await mirrorDriverStep(store.getState().loaded!.character, driver);
    await addStep(made.step, made.blobs);
    if (made.unmatched) say(`Mirrored; ${made.unmatched} vertices have no counterpart and were left out.`);
  };
  const also = (kind: "direction" | "angle" | "effort"): void => {
    const { loaded, pose } = store.getState();
    if (kind === "direction") return set({ terms: [...driver.terms, directionNow(loaded!, motion.joint, pose)] });
    if (kind === "effort") {
      const shape = `effort ${name}`;
      return set({ terms: [...driver.terms, { kind: "weight", shape, atNone: 0.4 }], group: "muscle" }, [shape]);
    }
    const points = [
      { degrees: Math.min(0, motion.min), weight: 0 },
      { degrees: motion.max, weight: 1 },
    ];
    return set({
      terms: [...driver.terms, { kind: "angle", joint: motion.joint, axis: motion.axis, points, between: "smooth" }],
    });
  };
  return (
    <div className="corrective" role="group" aria-label={`Corrective ${name}`}>
      <ItemHead name={name} enabled={driver.enabled} onEnabled={(enabled) => set({ enabled })}>
        <span className="mono muted nowrap">now at {driven(name).toFixed(2)}</span>
      </ItemHead>
      {driver.terms.map((term, i) => (
        <TermRow
          key={i}
          term={term}
          view={view}
          onSet={(t) => setTerm(i, t)}
          onRemove={driver.terms.length > 1 ? () => set({ terms: driver.terms.filter((_, k) => k !== i) }) : null}
        />
      ))}
      <div className="line t-small gap-14">
        {driver.terms.length > 1 && (
          <Segmented
            label="Together"
            options={TERM_RULES}
            value={driver.rule}
            names={{ product: "multiplied", least: "the least" }}
            onChange={(rule) => set({ rule })}
          />
        )}
        <span className="nowrap">
          intensity{" "}
          <ScrubCommit
            label={`${name}: intensity`}
            value={driver.intensity}
            min={0}
            max={4}
            step={0.01}
            start={1}
            onSet={(intensity) => set({ intensity })}
          />
        </span>
        <GroupSelect of={name} group={driver.group} onSet={(group) => set({ group })} />
      </div>
      {driver.terms.length < 4 && <And motion={motion} disabled={sculpting} also={also} />}
      <ItemActions name={name} onSculpt={() => attempt(again)} onMirror={() => attempt(mirror)} />
      {told}
    </div>
  );
}

interface AndProps {
  readonly motion: JointMotion;
  readonly disabled: boolean;
  readonly also: (kind: "direction" | "angle" | "effort") => void;
}
/** One more reading. */
function And({ motion, disabled, also }: AndProps): ReactNode {
  return (
    <div className="line t-small ml-n8">
      <Button disabled={disabled} onClick={() => also("direction")}>
        And near this direction
      </Button>
      <Button disabled={disabled} onClick={() => also("angle")}>
        And {motion.name}
      </Button>
      <Button disabled={disabled} onClick={() => also("effort")}>
        And an effort
      </Button>
    </div>
  );
}
