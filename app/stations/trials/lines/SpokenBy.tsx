import Button from "@mui/material/Button";

import TextField from "@mui/material/TextField";
import { useState, type ReactNode } from "react";
import { VoicePick } from "./VoicePick";

import { remade } from "~core/trials/linePiece";
import type { LinePiece } from "~core/trials/trial";
import { useWork } from "../../../session/jobs/useWork";
import { useSession, useSessionStore } from "../../../session/session";
import { changeTrial, pieceOf, withPiece } from "../../../session/slices/trial";
import { dropOwnWord, keepOwnWord, sayText, waysOfWord, type WordWays } from "../../../session/speech";
import { Progress } from "../../../ui/Progress";
import { ScrubField } from "../../../ui/ScrubField";
import { Refused } from "../../../ui/Refused";

/** What is said, by which voice; its words with how each is said. A recording keeps its sound. */
export function SpokenBy({ piece }: { piece: LinePiece }): ReactNode {
  const store = useSessionStore();
  const work = useWork("The line could not be spoken.");
  const [text, setText] = useState<string | null>(null);
  const [word, setWord] = useState<number | null>(null);
  const { said } = piece;
  const again = async (change: Partial<NonNullable<LinePiece["said"]>>): Promise<void> => {
    const wanted = { text: "", voice: "alto", pace: 1, ...said, ...change };
    const made = await work.during("Speaking", () => sayText(wanted.text, wanted.voice ?? "alto", wanted.pace));
    if (!made) return;
    changeTrial(store, (t) =>
      withPiece(t, piece.id, (p) =>
        p.kind === "line" ? remade(p, made.line, { said: wanted, sound: made.sound }) : p,
      ),
    );
    setText(null);
  };
  const fromVoice = said !== null && said.voice !== null;
  const opened = word === null ? undefined : piece.line.words[word];
  return (
    <>
      {fromVoice && (
        <div className="line mt-4">
          <TextField
            size="small"
            fullWidth
            multiline
            label="What it says"
            value={text ?? said.text}
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== "Enter" || e.shiftKey) return;
              e.preventDefault();
              void again({ text: text ?? said.text });
            }}
          />
        </div>
      )}
      <div className="line t-small mt-4">
        {fromVoice ? (
          <>
            <span className="muted">voice</span>
            <VoicePick
              label="Voice of this line"
              value={said.voice ?? "alto"}
              onChange={(voice) => void again({ voice })}
            />
            <span className="muted">pace</span>
            <ScrubField
              label="Pace of this line"
              value={said.pace}
              min={0.5}
              max={2}
              step={0.01}
              start={1}
              unit="×"
              onChange={() => {}}
              onCommit={(pace) => void again({ pace })}
            />
            {text !== null && text !== said.text && (
              <Button variant="contained" onClick={() => void again({ text })}>
                Say it anew
              </Button>
            )}
          </>
        ) : (
          <span className="muted">{piece.sound ? "A recording." : "Phones of a file, without sound."}</span>
        )}
        {work.running && <Progress {...work.running} onCancel={work.cancel} />}
      </div>
      <Refused why={work.refusal} place="m-10-0" />
      {piece.line.words.length > 0 && <Words piece={piece} word={word} onWord={setWord} />}
      {opened && (
        <WordWaysRow
          key={opened.text}
          word={(opened.said ?? opened.text).split(" ")[0]!.toLowerCase()}
          again={fromVoice ? () => void again({}) : null}
          id={piece.id}
        />
      )}
    </>
  );
}

interface WordsProps {
  readonly piece: LinePiece;
  readonly word: number | null;
  readonly onWord: (word: number | null) => void;
}
function Words({ piece, word, onWord }: WordsProps): ReactNode {
  return (
    <div className="line words mt-4" role="group" aria-label="Words">
      {piece.line.words.map((w, i) => (
        <button
          key={w.from}
          type="button"
          className={`plain word-chip${w.guess ? " guess" : ""}${i === word ? " chosen" : ""}`}
          title={w.guess ? "guessed from its letters: say how it sounds" : (w.said ?? w.text)}
          aria-expanded={i === word}
          onClick={() => onWord(i === word ? null : i)}>
          {w.text}
        </button>
      ))}
    </div>
  );
}

/** How a word is said: the dictionary's ways, or one's own, kept for every line to come. */
function WordWaysRow({ word, again, id }: { word: string; again: (() => void) | null; id: string }): ReactNode {
  const work = useWork("The pronunciation could not be kept.");
  const [found, setFound] = useState<WordWays | null>(null);
  const [typed, setTyped] = useState("");
  const stands = useSession((s) => (s.trial ? pieceOf(s.trial, id) !== null : false));
  if (!found && !work.running && !work.refusal)
    void work.during("Looking it up", () => waysOfWord(word)).then((w) => w && setFound(w));
  const keep = async (phones: string): Promise<void> => {
    const done = await work.during("Keeping it", () => keepOwnWord(word, phones));
    if (!done) return;
    setFound((f) => f && { ...f, own: phones });
    if (stands) again?.();
  };
  const drop = async (): Promise<void> => {
    const done = await work.during("Letting it go", () => dropOwnWord(word));
    if (!done) return;
    setFound((f) => f && { ...f, own: null });
    if (stands) again?.();
  };
  return (
    <div className="word-ways t-small">
      <b>{word}</b>
      {found?.ways.map((way) => (
        <Button
          key={way}
          size="small"
          variant={found.own === way ? "contained" : "text"}
          title="Say it so, in every line from now on"
          onClick={() => void keep(way)}>
          <span className="mono">{way}</span>
        </Button>
      ))}
      {found && found.ways.length === 0 && <span className="muted">not in the dictionary</span>}
      <input
        className="scrub-input wide-178 mono"
        aria-label={`How ${word} is said, ARPAbet`}
        placeholder={found?.own ?? "F EH1 R IY0"}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && typed.trim()) void keep(typed.trim().toUpperCase());
        }}
      />
      <Button disabled={!typed.trim()} onClick={() => void keep(typed.trim().toUpperCase())}>
        Say it so
      </Button>
      {found?.own && <Button onClick={() => void drop()}>As the dictionary has it</Button>}
      {work.refusal && <span role="alert">{work.refusal}</span>}
    </div>
  );
}
