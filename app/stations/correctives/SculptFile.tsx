import Button from "@mui/material/Button";
import { useRef, useState, type ReactNode, type RefObject } from "react";
import { SmallSwitch } from "../../ui/SmallSwitch";
import { movedWords } from "~core/correctives/takeSculpt";
import { isUserError } from "~core/model/userError";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { askJob } from "../../session/jobs/pageJobs";
import { fileStep, type FileChoices, type FileStep, type MadeStep } from "../../session/sculpt";
import { momentOf, useSession, useSessionStore } from "../../session/session";
import { angleAlong } from "../../session/posing";
import { showMoment } from "../../session/slices/view";
import { useDesk } from "../../session/useDesk";
import { saveFile } from "../../ui/saveFile";
import { useBrush } from "../BrushTools";
import { IllNote } from "./IllNote";

interface Report {
  readonly text: string;
  readonly ill: readonly { readonly part: string; readonly vertices: readonly number[] }[];
}
type Question = Extract<FileStep, { readonly ask: string }> & {
  readonly file: File;
  readonly choices: FileChoices;
  readonly motion: JointMotion;
};
/** What each question is about. */
const ASKS: Readonly<Record<Question["ask"], string>> = {
  pose: "Is it of this pose?",
  replace: "What becomes of the one that is there?",
  stand: "It was sent out in another pose.",
};

/** The posed mesh out as OBJ, and a sculpted OBJ of it back in; what is doubtful about it is asked first. */
export function SculptFile({ motion, angle }: { motion: JointMotion; angle: number }): ReactNode {
  const input = useRef<HTMLInputElement>(null);
  const [brush, change] = useBrush();
  const dressed = useSession((s) => (s.loaded?.character.parts.length ?? 0) > 1);
  const { busy, refusal, report, question, setQuestion, send, bring, again, stand } = useSculptFile(
    motion,
    angle,
    input,
  );
  return (
    <>
      <Button onClick={() => void send()} disabled={busy !== ""} title="Writes all parts as they stand in this pose">
        Send posed OBJ
      </Button>
      <Button
        onClick={() => input.current?.click()}
        disabled={busy !== ""}
        title="Takes a sculpt of this pose: all parts or one, subdivided too; unit, axes and vertex order are set right">
        Bring sculpt back
      </Button>
      {dressed && (
        <SmallSwitch label="clothes go along" checked={brush.clothes} onChange={(on) => change({ clothes: on })} />
      )}
      <input
        ref={input}
        type="file"
        accept=".obj"
        hidden
        aria-label="Sculpted OBJ of this pose"
        onChange={(e) =>
          e.target.files?.[0] && void bring(e.target.files[0], { sure: false, clothes: brush.clothes, there: "ask" })
        }
      />
      {busy && (
        <span className="muted" role="status">
          {busy}
        </span>
      )}
      {refusal && (
        <div className="refusal wide" role="alert">
          <b>Not taken</b> {refusal}
        </div>
      )}
      {question && <Ask question={question} onStand={stand} again={again} onLeave={() => setQuestion(null)} />}
      {report && (
        <div className="wide t-small" role="status">
          {report.text}
          {report.ill.map((i) => (
            <IllNote key={i.part} part={i.part} vertices={i.vertices} />
          ))}
        </div>
      )}
    </>
  );
}

interface SculptFileWork {
  readonly busy: string;
  readonly refusal: string;
  readonly report: Report | null;
  readonly question: Question | null;
  readonly setQuestion: (question: Question | null) => void;
  readonly send: () => Promise<void>;
  readonly bring: (file: File, choices: FileChoices) => Promise<void>;
  readonly again: (to: Partial<FileChoices>) => void;
  readonly stand: () => void;
}
/** Writing, reading back and asking. */
function useSculptFile(motion: JointMotion, angle: number, input: RefObject<HTMLInputElement | null>): SculptFileWork {
  const store = useSessionStore();
  const { addStep } = useDesk();
  const [busy, setBusy] = useState("");
  const [refusal, setRefusal] = useState("");
  const [report, setReport] = useState<Report | null>(null);
  const [question, setQuestion] = useState<Question | null>(null);
  const send = async (): Promise<void> => {
    const s = store.getState();
    if (!s.loaded) return;
    setBusy("Writing");
    const text = await askJob(s.loaded, "posed obj", { moment: momentOf(s) });
    saveFile(`${s.loaded.character.name} ${motion.label} ${angle}.obj`, new Blob([text], { type: "model/obj" }));
    setBusy("");
  };
  const bring = async (file: File, choices: FileChoices, of = motion): Promise<void> => {
    const s = store.getState();
    if (!s.loaded) return;
    setBusy("Reading");
    setRefusal("");
    setReport(null);
    setQuestion(null);
    try {
      const { parts } = s.loaded.character;
      const name = `${of.label} ${angleAlong(of, s.pose)}`;
      const made = await fileStep({ ...s, loaded: s.loaded }, of, file, name, choices);
      if ("ask" in made) return setQuestion({ motion: of, ...made, file, choices });
      if (await addStep(made.step, made.blobs))
        setReport({
          text: backAtRest(file.name, made),
          ill: made.ill.map((i) => ({ part: parts[i.part]!.name, vertices: [...i.vertices] })),
        });
    } catch (error) {
      setRefusal(isUserError(error) ? error.message : `${file.name} could not be read.`);
    } finally {
      setBusy("");
      if (input.current) input.current.value = "";
    }
  };
  const again = (to: Partial<FileChoices>): void =>
    void (question && bring(question.file, { ...question.choices, ...to }, question.motion));
  const stand = (): void => {
    if (question?.ask !== "stand") return;
    const { pose, weights, method, drivers } = question.stand;
    showMoment(store, { pose, weights, method, drivers, joint: question.motion.joint });
    again({});
  };
  return { busy, refusal, report, question, setQuestion, send, bring, again, stand };
}

interface AskProps {
  readonly question: Question;
  readonly onStand: () => void;
  readonly again: (to: Partial<FileChoices>) => void;
  readonly onLeave: () => void;
}
/** What is doubtful about the file, and the ways to go on. */
function Ask({ question, onStand, again, onLeave }: AskProps): ReactNode {
  return (
    <div className="refusal wide" role="alertdialog" aria-label="Before the sculpt is taken">
      <b>{ASKS[question.ask]}</b> {question.text}
      <div className="line ml-n8">
        {question.ask === "stand" && <Button onClick={onStand}>Pose the figure so, and take it</Button>}
        {question.ask === "pose" && <Button onClick={() => again({ sure: true })}>It is of this pose</Button>}
        {question.ask === "replace" && (
          <>
            <Button onClick={() => again({ there: "replace" })}>Put it into that one</Button>
            <Button onClick={() => again({ there: "one more" })}>One more at this angle</Button>
          </>
        )}
        <Button onClick={onLeave}>Leave it</Button>
      </div>
    </div>
  );
}

/** What became of a sculpt that was brought back. */
const backAtRest = (file: string, made: Extract<FileStep, MadeStep>): string =>
  [
    `${file} is back at rest. ${movedWords(made.moved)}`,
    ...made.notes,
    "Posed again it differs from the file by up to " +
      `${made.residual.max.toFixed(3)} mm (rms ${made.residual.rms.toFixed(4)} mm).`,
    othersMet(made.met),
    made.told ?? "",
  ]
    .filter(Boolean)
    .join(" ");

/** How well the sculpts at other angles of the joint are met beside the new one. */
function othersMet(met: MadeStep["met"]): string {
  if (met.length === 0) return "";
  const worst = met.reduce((a, b) => (b.mm > a.mm ? b : a));
  return worst.mm < 0.01
    ? `The ${met.length === 1 ? "sculpt" : `${met.length} sculpts`} at ` +
        `other angles ${met.length === 1 ? "is" : "are"} met as before.`
    : `${worst.name} is ${worst.mm.toFixed(2)} mm from what it was ` +
        `at ${Math.round(worst.degrees)} degrees: look at it again.`;
}
