import Button from "@mui/material/Button";

import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { VoicePick } from "./VoicePick";

import { useDropzone } from "react-dropzone";
import { linesOf } from "~core/trials/spokenLines";
import { endOf, MOST_PIECES, type LinePiece } from "~core/trials/trial";
import { useWork } from "../../../session/jobs/useWork";
import { useSession, useSessionStore, type SessionStore } from "../../../session/session";
import { addPiece, selectPiece } from "../../../session/slices/trial";
import type { Voice } from "../../../session/speech";
import { Progress } from "../../../ui/Progress";
import { ScrubField } from "../../../ui/ScrubField";
import { openLine } from "./openLine";
import { lineFromText, linesFromFiles, type ReadyLine } from "./lineSources";
import { Refused } from "../../../ui/Refused";

/** Between lines that stand one after another, seconds. */
const BETWEEN = 0.4;

/** Puts lines behind those that stand. @returns why not, or nothing. */
function putLines(store: SessionStore, lines: readonly ReadyLine[]): string {
  const now = store.getState().trial;
  if (!now) return "";
  if (now.lanes.speech.length + lines.length > MOST_PIECES)
    return (
      `These are ${lines.length} lines and ${now.lanes.speech.length} stand already; a trial holds ${MOST_PIECES}. ` +
      "Bring a scene at a time, each into a trial of its own."
    );
  let next = linesOf(now).reduce((m, p) => Math.max(m, endOf(p) + BETWEEN), 0);
  let last: LinePiece | null = null;
  for (const { at, piece } of lines) {
    const start = at ?? next;
    addPiece(store, "speech", { ...piece, start });
    last = { ...piece, start };
    next = start + (piece.to - piece.from) / piece.speed + BETWEEN;
  }
  if (lines.length === 1 && last) openLine(store, last);
  else selectPiece(store, null);
  return "";
}

/** A line typed and spoken, or brought as a recording, captions or phones. */
export function NewLine(): ReactNode {
  const store = useSessionStore();
  const trial = useSession((s) => s.trial);
  const [text, setText] = useState("");
  const [voice, setVoice] = useState<Voice>("alto");
  const [pace, setPace] = useState(1);
  const [notes, setNotes] = useState<readonly string[]>([]);
  const work = useWork("The line could not be spoken.");
  const put = (lines: readonly ReadyLine[]): void => {
    const refused = putLines(store, lines);
    if (refused) work.refuse(refused);
  };
  const say = async (): Promise<void> => {
    setNotes([]);
    const made = await work.during("Speaking", () => lineFromText(text, voice, pace));
    if (!made) return;
    put([made]);
    setNotes(made.notes);
    setText("");
  };
  const take = async (files: readonly File[]): Promise<void> => {
    setNotes([]);
    const made = await work.during("Reading", (tell) => linesFromFiles(files, text, voice, tell));
    if (!made) return;
    put(made.lines);
    setNotes([...made.notes, ...made.refused]);
  };
  const drop = useDropzone({ onDrop: (files) => void take(files), noClick: true, noKeyboard: true });
  if (!trial) return null;
  return (
    <div className="p-8-18" {...drop.getRootProps()}>
      <input {...drop.getInputProps({ "aria-label": "Files: Bring lines" })} />
      <SaidField text={text} setText={setText} say={say} />
      <div className="line mt-6">
        <label className="line one-row">
          <span className="muted">voice</span>
          <VoicePick label="Voice" value={voice} onChange={setVoice} />
        </label>
        <label className="line one-row">
          <span className="muted">pace</span>
          <ScrubField label="Pace" value={pace} min={0.5} max={2} step={0.01} start={1} unit="×" onChange={setPace} />
        </label>
        <span className="take-rest" />
        {work.running ? (
          <Progress {...work.running} onCancel={work.cancel} />
        ) : (
          <>
            <Button onClick={drop.open}>Bring files</Button>
            <Button variant="contained" disabled={!text.trim()} onClick={() => void say()}>
              Say it
            </Button>
          </>
        )}
      </div>
      <Refused why={work.refusal} place="m-10-0" />
      <Below notes={notes} dropping={drop.isDragActive} />
    </div>
  );
}

interface SaidFieldProps {
  readonly text: string;
  readonly setText: (text: string) => void;
  readonly say: () => Promise<void>;
}
function SaidField({ text, setText, say }: SaidFieldProps): ReactNode {
  return (
    <TextField
      fullWidth
      multiline
      maxRows={6}
      size="small"
      label="What is said"
      placeholder="The next boat leaves from pier five."
      value={text}
      onChange={(e) => setText(e.target.value)}
      onKeyDown={(e) => {
        if (e.key !== "Enter" || e.shiftKey) return;
        e.preventDefault();
        if (text.trim()) void say();
      }}
    />
  );
}

interface BelowProps {
  readonly notes: readonly string[];
  readonly dropping: boolean;
}
function Below({ notes, dropping }: BelowProps): ReactNode {
  return (
    <>
      {notes.map((n) => (
        <div key={n} className="t-small" role="status">
          {n}
        </div>
      ))}
      <p className="muted t-small mt-4 mb-0">
        {dropping
          ? "Let go to bring them."
          : "Or drop files here: a WAV with its text written above, TextGrid or a table of phones (with their WAV, if there is one), captions as WebVTT or SubRip."}
      </p>
    </>
  );
}
