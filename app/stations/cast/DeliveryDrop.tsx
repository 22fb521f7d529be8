import Button from "@mui/material/Button";
import { useRef, useState, type ReactNode } from "react";
import { useDropzone } from "react-dropzone";
import { useNavigate } from "react-router";
import { followJob } from "../../session/jobClient";
import { ask, Refusal } from "../../session/ledgerClient";
import { Progress } from "../../ui/Progress";

/** Drop zone for a delivery: one GLB, or an OBJ base with OBJ targets. Refusals say what, where and what to do. */
export function DeliveryDrop({ uploadLimitMb }: { uploadLimitMb: number }): ReactNode {
  const [share, setShare] = useState<number | null>(null);
  const [refusal, setRefusal] = useState<Refusal | null>(null);
  const cancelled = useRef(false);
  const navigate = useNavigate();
  const take = async (files: File[]): Promise<void> => {
    if (files.length === 0) return;
    setRefusal(null);
    const total = files.reduce((n, f) => n + f.size, 0);
    if (total > uploadLimitMb * 1048576) return setRefusal(new Refusal(`These files have ${Math.ceil(total / 1048576)} MB; up to ${uploadLimitMb} MB are taken.`, "Send the character without its scene.", false));
    cancelled.current = false;
    setShare(0);
    try {
      const form = new FormData();
      for (const file of files) form.append("files", file, file.name);
      const { job } = (await ask("/api/deliveries", { method: "POST", body: form })) as { job: string };
      const { character } = (await followJob(job, setShare, () => cancelled.current)) as { character: string };
      await navigate(`/c/${character}/intake`);
    } catch (error) {
      if (!cancelled.current) setRefusal(error instanceof Refusal ? error : new Refusal("The delivery could not be taken in.", "Try again.", false));
    } finally {
      setShare(null);
    }
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({ onDrop: (files) => void take(files), noClick: true, noKeyboard: true, disabled: share !== null });
  return (
    <div {...getRootProps()} className={`drop${isDragActive ? " over" : ""}`} style={{ cursor: "default" }} role="region" aria-label="Take in a delivery">
      <input {...getInputProps()} aria-label="Files of a delivery" />
      {share === null ? (
        <>
          <b>Take in a character</b>
          <span className="muted" style={{ fontSize: 12.5 }}>Drop one .glb here, or an .obj base together with its .obj targets. Up to {uploadLimitMb} MB.</span>
          <Button variant="contained" onClick={open}>Choose files</Button>
        </>
      ) : (
        <Progress title="Reading and checking" share={share} onCancel={() => (cancelled.current = true)} />
      )}
      {refusal && (
        <div className="refusal" role="alert" style={{ textAlign: "left", overflowWrap: "anywhere" }}>
          <b>Not taken in</b> {refusal.what} {refusal.todo && <span className="muted">{refusal.todo}</span>}
        </div>
      )}
    </div>
  );
}
