import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { startJob } from "../../session/jobs/pageJobs";
import { useWork } from "../../session/jobs/useWork";
import { proposalStep } from "../../session/sculpt";
import { momentOf, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { Progress } from "../../ui/Progress";

/** Makes a first sculpt by measure in the present pose: volume kept, no skin in skin; to be refined by hand. */
export function ProposeSculpt({ motion, angle }: { motion: JointMotion; angle: number }): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const work = useWork("The sculpt could not be proposed.");
  const [note, setNote] = useState("");
  const propose = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded) return;
    setNote("");
    const { loaded } = s;
    const made = await work.during("Finding where the flesh goes", async (progress, signal) => {
      const input = { joint: motion.joint, moment: momentOf(s), profile: "realtime" as const };
      const proposal = await startJob(loaded, "propose sculpt", input, { progress, signal });
      return { step: proposal && (await proposalStep({ ...s, loaded }, motion, proposal, `${motion.label} ${angle}`)) };
    });
    if (made?.step) await addStep(made.step.step, made.step.blobs);
    else if (made) setNote("Nothing is over a limit at this angle: no sculpt is proposed.");
  };
  return (
    <>
      <Button
        onClick={() => void propose()}
        disabled={angle === 0 || work.running !== null}
        title="Keeps the limb's volume and takes skin out of skin; makes a corrective that you can sculpt on">
        Propose a sculpt
      </Button>
      {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      {(note || work.refusal) && (
        <span className="muted wide t-small" role="status">
          {note || work.refusal}
        </span>
      )}
    </>
  );
}
