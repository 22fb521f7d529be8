import Button from "@mui/material/Button";
import { useMemo, useState, type ReactNode } from "react";
import type { SweepRow } from "~core/measure/sweepMotion";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { actingOn, worstRow } from "../../session/motionScore";
import { useSession } from "../../session/session";
import { useCharacterPage } from "../../session/useDesk";
import { useSweeps } from "../../session/useSweeps";
import { FindField } from "../../ui/FindField";
import { Progress } from "../../ui/Progress";
import { Segmented } from "../../ui/Segmented";
import { SheetHead } from "../../ui/SheetHead";
import { useQueryState } from "../../ui/useQueryState";
import { LIMBS, limbOf, type Limb } from "./limbs";
import { BackToTrial } from "./BackToTrial";
import { DriverProposals } from "./DriverProposals";
import { MotionRow } from "./MotionRow";
import { counted } from "../../ui/counted";
import { DriverGroups } from "./DriverGroups";
import { poseDriven } from "~core/model/drivenShapes";
import { Muscles } from "./Muscles";
import { CarryCorrectives } from "./CarryCorrectives";
import { TwistJoints } from "./TwistJoints";

const SHOWN = ["all", "with correctives", "over the limit"] as const;
type Shown = (typeof SHOWN)[number];

/** Every joint's directions as ribbons, grouped by limb; the open one holds the tools to correct it in the pose. */
export function CorrectivesSheet(): ReactNode {
  const loaded = useSession((s) => s.loaded);
  const sculpting = useSession((s) => s.sculpt !== null);
  const sweeps = useSweeps();
  const [open, setOpen] = useQueryState<string>("open", "");
  const [show, setShow] = useQueryState<Shown>("show", "all", SHOWN);
  const [find, setFind] = useState("");
  const { trials, groups } = useGroups(find, show);
  const unswept = (loaded?.motions ?? []).filter((m) => !trials.has(m.id));
  const count = [...groups.values()].reduce((n, g) => n + g.length, 0);
  return (
    <div className="sheet">
      <SheetHead
        title="Correctives"
        leaves={<Segmented label="Show" options={SHOWN} value={show} onChange={setShow} />}>
        <FindField label="Find a joint or corrective" value={find} onChange={setFind} />
        <span className="muted nowrap">
          {counted(count, "directions")}, {counted(loaded ? poseDriven(loaded.character).size : 0, "correctives")}
        </span>
        {unswept.length > 0 && (
          <Button
            disabled={sweeps.running !== null || sculpting}
            variant={open ? "text" : "contained"}
            onClick={() => void sweeps.run(unswept)}
            title="Measures every direction from end to end, so that the worst stand out">
            {unswept.length === loaded?.motions.length ? "Sweep all" : `Sweep ${unswept.length}`}
          </Button>
        )}
      </SheetHead>
      {sweeps.running && (
        <div className="sheet-tools p-6-18 m-0">
          <Progress title={sweeps.running.title} share={sweeps.running.share} onCancel={sweeps.cancel} />
        </div>
      )}
      <BackToTrial />
      <div className="sheet-body">
        <DriverGroups />
        <DriverProposals />
        <Muscles />
        <TwistJoints />
        <CarryCorrectives sweeps={sweeps} onLeft={() => setShow("over the limit")} />
        {!loaded && <p className="muted p-8-18">Fetching the character</p>}
        {loaded && loaded.motions.length === 0 && (
          <p className="p-8-18">No joint has a known range: map the joints at the Skeleton station first.</p>
        )}
        {loaded && loaded.motions.length > 0 && count === 0 && (
          <p className="muted p-8-18">
            {show === "over the limit"
              ? "Nothing swept so far is over a limit. Sweep all directions at Trials."
              : "Nothing matches."}
          </p>
        )}
        {LIMBS.map((limb) => {
          const motions = groups.get(limb);
          return (
            motions && (
              <section key={limb} aria-label={limb}>
                <div className="group-title">{limb[0]!.toUpperCase() + limb.slice(1)}</div>
                {motions.map((motion) => (
                  <MotionRow
                    key={motion.id}
                    motion={motion}
                    rows={trials.get(motion.id) ?? null}
                    open={open === motion.id}
                    onOpen={() => setOpen(open === motion.id ? "" : motion.id)}
                    onSweep={() => void sweeps.run([motion])}
                    sweeping={sweeps.running !== null}
                  />
                ))}
              </section>
            )
          );
        })}
      </div>
    </div>
  );
}

interface Groups {
  readonly trials: ReadonlyMap<string, readonly SweepRow[]>;
  readonly groups: ReadonlyMap<Limb, readonly JointMotion[]>;
}
/** Directions that are shown, by limb, and what was swept of them. */
function useGroups(find: string, show: Shown): Groups {
  const loaded = useSession((s) => s.loaded);
  const method = useSession((s) => s.method);
  const page = useCharacterPage();
  const trials = useMemo(
    () => new Map(page.trials.filter((t) => t.method === method).map((t) => [t.motion, t.rows])),
    [page.trials, method],
  );
  const groups = useMemo(() => {
    const out = new Map<Limb, JointMotion[]>();
    for (const motion of loaded?.motions ?? []) {
      const rows = trials.get(motion.id);
      const text = `${motion.label} ${motion.joint} ${actingOn(loaded!.character, motion)
        .map((d) => d.shape)
        .join(" ")}`;
      if (!text.toLowerCase().includes(find.toLowerCase())) continue;
      if (show === "with correctives" && actingOn(loaded!.character, motion).length === 0) continue;
      if (show === "over the limit" && !(rows && (worstRow(rows, "with")?.excess.times ?? 0) > 1)) continue;
      const limb = limbOf(motion);
      out.set(limb, [...(out.get(limb) ?? []), motion]);
    }
    return out;
  }, [loaded, trials, find, show]);
  return { trials, groups };
}
