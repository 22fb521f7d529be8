import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { combinedPose, type CombinedRow } from "~core/measure/combinedPoses";
import { useJob } from "../../session/jobs/useJob";
import { worstOf, type Excess } from "../../session/motionScore";
import { useSession, useSessionStore, type Loaded, type Session } from "../../session/session";
import { FindField } from "../../ui/FindField";
import { LimitBar } from "../../ui/LimitBar";
import { Progress } from "../../ui/Progress";
import { SheetHead } from "../../ui/SheetHead";
import { counted } from "../../ui/counted";
import { showMoment } from "../../session/slices/view";
import { Refused } from "../../ui/Refused";

/** One seed, so that the same poses are read before and after. */
const SEED = 1;
const SHOWN = 200;

interface Scored {
  readonly row: CombinedRow;
  readonly excess: Excess;
}
/** Kept for the state and method they were read in. */
const known = new Map<string, readonly Scored[]>();
const keyOf = (loaded: Loaded | null, method: Session["method"]): string => `${loaded?.state ?? ""} ${method}`;
const signed = (x: number): string => `${x > 0 ? "+" : ""}${x}°`;

/**
 * Poses of two neighbouring motions at once: the corners of their ranges and some inside, worst first; a row poses the
 * figure so.
 */
export function CombinedTrials({ leaves }: { leaves: ReactNode }): ReactNode {
  const store = useSessionStore();
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const pose = useSession((s) => s.pose);
  const [find, setFind] = useState("");
  const work = useJob("The poses could not be read.");
  const rows = known.get(keyOf(loaded, method));
  const read = async (): Promise<void> => {
    if (!loaded) return;
    const found = await work.run("Posing two motions at once", "combined", { seed: SEED, method, profile: "realtime" });
    if (found)
      known.set(
        keyOf(loaded, method),
        found.map((row) => ({ row, excess: worstOf(row.reading) })).sort((a, b) => b.excess.times - a.excess.times),
      );
  };
  const show = ({ row, excess }: Scored): void =>
    showMoment(store, {
      pose: combinedPose(row),
      joint: row.joint,
      framing: `joint ${row.joint}`,
      reading: excess.measure === "overlap" || excess.measure === "stretch" ? excess.measure : "skin",
    });
  const on = ({ row }: Scored): boolean => JSON.stringify(pose) === JSON.stringify(combinedPose(row));
  const words = ({ row }: Scored): string =>
    `${row.a.label} ${signed(row.degreesA)}, ${row.b.label} ${signed(row.degreesB)}`;
  const shown = rows?.filter((r) => words(r).toLowerCase().includes(find.toLowerCase())) ?? [];
  const over = rows?.filter((r) => r.excess.times > 1).length ?? 0;
  return (
    <div className="sheet">
      <SheetHead title="Trials" leaves={leaves}>
        {work.running ? (
          <Progress {...work.running} onCancel={work.cancel} />
        ) : (
          <>
            <FindField label="Find a motion" value={find} onChange={setFind} />
            <span className="muted nowrap">
              {rows ? `${over} of ${counted(rows.length, "poses")} over a limit` : ""}
            </span>
            <Button
              variant={rows ? "text" : "contained"}
              disabled={!loaded || loaded.motions.length === 0}
              onClick={() => void read()}>
              {rows ? "Read again" : "Read the poses"}
            </Button>
          </>
        )}
      </SheetHead>
      <div className="sheet-body">
        <Refused why={work.refusal} place="m-10-18" />
        {!rows && !work.running && !work.refusal && (
          <p className="p-8-18">
            A joint that keeps to its limits in each motion alone may not when two act together: an arm down and
            twisted, a thigh forward and out. Neighbouring motions are tried at the corners of their ranges and at
            seeded places inside.
          </p>
        )}
        {rows && shown.length === 0 && (
          <p className="muted p-8-18">{rows.length ? "Nothing matches." : "No two motions act on the same skin."}</p>
        )}
        {shown.slice(0, SHOWN).map((r) => (
          <div key={words(r)} className={`row${on(r) ? " open" : ""}`}>
            <button type="button" className="plain row-line" aria-pressed={on(r)} onClick={() => show(r)}>
              <span className="grow">{words(r)}</span>
              <span className="wide-178 rigid to-right">
                <LimitBar
                  value={r.excess.times}
                  limit={1}
                  text={r.excess.text}
                  verdict={r.excess.times > 2 ? "error" : r.excess.times > 1 ? "warn" : "fine"}
                  width={54}
                />
              </span>
            </button>
          </div>
        ))}
        {shown.length > SHOWN && <p className="muted p-8-18">{shown.length - SHOWN} more, all better than these.</p>}
      </div>
    </div>
  );
}
