import Button from "@mui/material/Button";
import { useRef, useState, type ReactNode } from "react";
import { isUserError } from "~core/model/userError";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { longRun, wasCancelled, type LongRun } from "../../session/measureClient";
import { proposalStep } from "../../session/sculpt";
import { momentOf, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { Progress } from "../../ui/Progress";

/** Makes a first sculpt by measure in the present pose: volume kept, no skin in skin; to be refined by hand. */
export function ProposeSculpt({ motion, angle }: { motion: JointMotion; angle: number }): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const run = useRef<LongRun<unknown> | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [note, setNote] = useState("");
  const propose = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded) return;
    setShare(0);
    setNote("");
    try {
      const work = longRun(
        s.loaded,
        (api, progress, token) => api.propose(motion.joint, momentOf(s), progress, token),
        setShare,
      );
      run.current = work;
      const proposal = await work.result;
      if (!proposal) return setNote("Nothing is over a limit at this angle: no sculpt is proposed.");
      const { step, blobs } = await proposalStep(
        { ...s, loaded: s.loaded },
        motion,
        proposal,
        `${motion.label} ${angle}`,
      );
      await addStep(step, blobs);
    } catch (error) {
      if (!wasCancelled(error)) setNote(isUserError(error) ? error.message : "The sculpt could not be proposed.");
    } finally {
      setShare(null);
    }
  };
  return (
    <>
      <Button
        onClick={() => void propose()}
        disabled={angle === 0 || share !== null}
        title="Keeps the limb's volume and takes skin out of skin; makes a corrective that you can sculpt on">
        Propose a sculpt
      </Button>
      {share !== null && (
        <Progress title="Finding where the flesh goes" share={share} onCancel={() => run.current?.cancel()} />
      )}
      {note && (
        <span className="muted" role="status" style={{ width: "100%", fontSize: 12.5 }}>
          {note}
        </span>
      )}
    </>
  );
}
