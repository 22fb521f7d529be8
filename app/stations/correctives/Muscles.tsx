import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { shapesRead } from "~core/model/terms/driverTerms";
import { startJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import { musclesStep } from "../../session/poseDrivers";
import { useSession, useSessionStore } from "../../session/session";
import { setWeight } from "../../session/slices/view";
import { useDesk } from "../../session/useDesk";
import { Progress } from "../../ui/Progress";
import { ScrubField } from "../../ui/ScrubField";

/** Bellies of muscles: proposed from the skeleton, then how hard each is at work. */
export function Muscles(): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const character = useSession((s) => s.loaded?.character ?? null);
  const weights = useSession((s) => s.weights);
  const work = useWork("No muscles could be proposed.");
  const [percent, setPercent] = useState(12);
  const [open, setOpen] = useState(false);
  if (!character?.skeleton) return null;
  const efforts = (character.poseDrivers ?? []).flatMap((d) =>
    d.group === "muscle" ? shapesRead(d.terms).map((effort) => ({ muscle: d.shape, effort })) : [],
  );
  const propose = async (): Promise<void> => {
    const { loaded } = store.getState();
    if (!loaded) return;
    const made = await work.during("Laying bellies on the limbs", (progress, signal) =>
      startJob(loaded, "propose muscles", { amount: percent / 100 }, { progress, signal }),
    );
    if (!made) return;
    if (made.length === 0) return work.refuse("All of them are there, or their joints are not mapped.");
    const { step, blobs } = await musclesStep(loaded.character, made);
    if (await addStep(step, blobs)) setOpen(true);
  };
  return (
    <section className={`row${open ? " open" : ""}`} aria-label="Muscles">
      <button type="button" className="plain row-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className="grow">Muscles</span>
        <span className="muted">{efforts.length ? `${efforts.length} driven by angle and effort` : "none yet"}</span>
      </button>
      {open && (
        <div className="row-body stack gap-8">
          <div className="line t-small">
            <span>
              a belly rises by{" "}
              <ScrubField
                label="Rise of a belly, percent of the limb"
                value={percent}
                min={1}
                max={50}
                step={0.5}
                digits={0}
                unit="%"
                start={12}
                onChange={setPercent}
              />{" "}
              of the limb
            </span>
            <Button variant={efforts.length ? "text" : "contained"} onClick={() => void propose()}>
              {efforts.length ? "Propose what is missing" : "Propose biceps, hamstrings, calves"}
            </Button>
          </div>
          {work.running && <Progress {...work.running} onCancel={work.cancel} />}
          {work.refusal && (
            <p className="muted t-small m-0" role="status">
              {work.refusal}
            </p>
          )}
          {efforts.map(({ muscle, effort }) => (
            <div key={muscle} className="line one-row t-small">
              <span className="grow over-hidden ellipsis nowrap">{muscle}</span>
              <span className="nowrap">
                effort{" "}
                <ScrubField
                  label={`Effort of ${muscle}`}
                  value={weights[effort] ?? 0}
                  min={0}
                  max={1}
                  step={0.01}
                  onChange={(x) => setWeight(store, effort, x)}
                />
              </span>
            </div>
          ))}
        </div>
      )}
    </section>
  );
}
