import Button from "@mui/material/Button";
import { useState, type ReactNode } from "react";
import { isUserError } from "~core/model/userError";
import { endSculpt, type StepWithBlobs } from "../session/sculpt";
import { useSession, useSessionStore, type Loaded, type Session } from "../session/session";
import { useDesk } from "../session/useDesk";

/** A session in which a sculpt is under way. */
type Sculpting = Session & { readonly loaded: Loaded; readonly sculpt: NonNullable<Session["sculpt"]> };

export interface KeepSculptProps {
  /** What keeping is called here. */
  readonly says: string;
  readonly failed: string;
  readonly disabled?: boolean;
  /** The step that the sculpt becomes. */
  readonly step: (s: Sculpting) => Promise<StepWithBlobs>;
  readonly kept?: () => void;
  /** Stands before the buttons, on their line. */
  readonly children?: ReactNode;
}

/** Keeps a sculpt as a step, or throws its strokes away after asking. */
export function KeepSculpt({ says, failed, disabled, step: makeStep, kept, children }: KeepSculptProps): ReactNode {
  const store = useSessionStore();
  const strokes = useSession((s) => s.sculpt?.undo.length ?? 0);
  const { addStep } = useDesk();
  const [refusal, setRefusal] = useState("");
  const [busy, setBusy] = useState(false);
  const [sure, setSure] = useState(false);
  const keep = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded || !s.sculpt) return;
    setBusy(true);
    setRefusal("");
    try {
      const { step, blobs } = await makeStep({ ...s, loaded: s.loaded, sculpt: s.sculpt });
      await addStep(step, blobs);
      endSculpt(store);
      kept?.();
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : failed);
      setBusy(false);
    }
  };
  return (
    <>
      <div className="line">
        {children}
        <Button variant="contained" disabled={busy || strokes === 0 || disabled === true} onClick={() => void keep()}>{says}</Button>
        {sure ? <><Button color="error" onClick={() => endSculpt(store)}>Throw {strokes} strokes away</Button><Button onClick={() => setSure(false)}>Keep on</Button></> : <Button onClick={() => (strokes === 0 ? endSculpt(store) : setSure(true))}>{strokes === 0 ? "Stop" : "Discard"}</Button>}
      </div>
      {refusal && <div className="refusal" role="alert">{refusal}</div>}
    </>
  );
}
