import Button from "@mui/material/Button";
import { useRef, useState, type ReactNode } from "react";
import { isUserError } from "~core/model/userError";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { measureWith } from "../../session/measureClient";
import { fileStep } from "../../session/sculpt";
import { momentOf, useSessionStore } from "../../session/session";
import { useDesk } from "../../session/useDesk";
import { saveFile } from "../../ui/saveFile";
import { IllNote } from "./IllNote";

interface Report {
  readonly text: string;
  readonly ill: readonly { readonly part: string; readonly vertices: readonly number[] }[];
}

/** The posed mesh out as OBJ, and a sculpted OBJ of it back in. */
export function SculptFile({ motion, angle }: { motion: JointMotion; angle: number }): ReactNode {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState("");
  const [refusal, setRefusal] = useState("");
  const [report, setReport] = useState<Report | null>(null);
  const send = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded) return;
    setBusy("Writing");
    const text = await (await measureWith(s.loaded)).posedObj(momentOf(s));
    saveFile(`${s.loaded.character.name} ${motion.label} ${angle}.obj`, new Blob([text], { type: "model/obj" }));
    setBusy("");
  };
  const bring = async (file: File): Promise<void> => {
    const s = store.getState();
    if (!s.loaded) return;
    setBusy("Reading");
    setRefusal("");
    setReport(null);
    try {
      const { parts } = s.loaded.character;
      const made = await fileStep({ ...s, loaded: s.loaded }, motion, file, `${motion.label} ${angle}`);
      if (await addStep(made.step, made.blobs))
        setReport({ text: `${file.name} is back at rest. Posed again it differs from the file by up to ${made.residual.max.toFixed(3)} mm (rms ${made.residual.rms.toFixed(4)} mm).`, ill: made.ill.map((i) => ({ part: parts[i.part]!.name, vertices: [...i.vertices] })) });
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : `${file.name} could not be read.`);
    } finally {
      setBusy("");
      if (input.current) input.current.value = "";
    }
  };
  return (
    <>
      <Button onClick={() => void send()} disabled={busy !== ""} title="Writes all parts as they stand in this pose">Send posed OBJ</Button>
      <Button onClick={() => input.current?.click()} disabled={busy !== "" || angle === 0} title="Takes a sculpt of this pose, same vertex order, all parts or one">Bring sculpt back</Button>
      <input ref={input} type="file" accept=".obj" hidden aria-label="Sculpted OBJ of this pose" onChange={(e) => e.target.files?.[0] && void bring(e.target.files[0])} />
      {busy && <span className="muted" role="status">{busy}</span>}
      {refusal && <div className="refusal" role="alert" style={{ width: "100%" }}><b>Not taken</b> {refusal}</div>}
      {report && (
        <div style={{ width: "100%", fontSize: 12.5 }} role="status">
          {report.text}
          {report.ill.map((i) => <IllNote key={i.part} part={i.part} vertices={i.vertices} />)}
        </div>
      )}
    </>
  );
}
