import { readCaptions } from "~core/formats/captions/readCaptions";
import { isUserError, UserError } from "~core/model/userError";
import { lineOfCsv, lineOfTextGrid } from "~core/speech/readLine";
import { linePiece } from "~core/trials/linePiece";
import { MOST_PIECES, type LinePiece } from "~core/trials/trial";
import { Refusal } from "../../../session/refusal";
import { alignText, keepRecording, sayText, type Voice } from "../../../session/speech";
import type { Tell } from "../../../session/jobs/useWork";

/** A line that is ready for the ruler; where it stands there, seconds, null puts it behind the others. */
export interface ReadyLine {
  readonly piece: LinePiece;
  readonly at: number | null;
  readonly notes: readonly string[];
}
export interface BroughtLines {
  readonly lines: readonly ReadyLine[];
  readonly notes: readonly string[];
  /** Why files could not be taken. */
  readonly refused: readonly string[];
}

/** A caption's line is spoken no slower and no quicker than this, to fit its time. */
const [SLOWEST, QUICKEST] = [0.7, 1.5];

const fresh = (): string => crypto.randomUUID();

export async function lineFromText(text: string, voice: Voice, pace: number): Promise<ReadyLine> {
  const { line, sound, notes } = await sayText(text, voice, pace);
  const said = { text, voice, pace };
  return { piece: linePiece(line, { said, sound }, 0, fresh()), at: null, notes };
}

const stemOf = (file: File): string => file.name.replace(/\.[^.]*$/, "");
const kindOf = (file: File): string => /\.([^.]*)$/.exec(file.name)?.[1]?.toLowerCase() ?? "";
const bytesOf = async (file: File): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());
const why = (file: File, error: unknown): string => {
  if (isUserError(error)) return `${file.name}: ${error.what} ${error.todo}`;
  if (error instanceof Refusal) return error.message;
  throw error;
};

/**
 * Lines of files that came together: phones with the recording of the same name, recordings with the text that is
 * written, captions spoken by a voice at their times. A file that cannot be read says why; the others are taken.
 */
export async function linesFromFiles(
  files: readonly File[],
  text: string,
  voice: Voice,
  tell: Tell,
): Promise<BroughtLines> {
  const lines: ReadyLine[] = [];
  const refused: string[] = [];
  const notes: string[] = [];
  const recordings = files.filter((f) => kindOf(f) === "wav");
  const used = new Set<File>();
  const others = files.filter((f) => !recordings.includes(f));
  for (const [i, file] of others.entries()) {
    tell(i / files.length);
    try {
      const kind = kindOf(file);
      if (kind === "vtt" || kind === "srt")
        lines.push(...(await spokenCaptions(await bytesOf(file), file.name, voice, tell)));
      else if (kind === "textgrid" || kind === "csv") {
        const bytes = await bytesOf(file);
        const line = kind === "csv" ? lineOfCsv(bytes, file.name) : lineOfTextGrid(bytes, file.name);
        const own = recordings.find((r) => stemOf(r) === stemOf(file));
        if (own) used.add(own);
        const sound = own ? (await keepRecording(own)).sound : null;
        lines.push({ piece: linePiece(line, { said: null, sound }, 0, fresh(), stemOf(file)), at: null, notes: [] });
      } else refused.push(`${file.name}: A line is a WAV, TextGrid, CSV, VTT or SRT file.`);
    } catch (error) {
      refused.push(why(file, error));
    }
  }
  for (const file of recordings.filter((r) => !used.has(r))) {
    tell((others.length + 0.5) / files.length, "Listening");
    if (!text.trim()) {
      refused.push(`${file.name}: Write above what it says, then bring it once more.`);
      continue;
    }
    try {
      const { line, sound, notes: told } = await alignText(file, text);
      const said = { text, voice: null, pace: 1 };
      lines.push({ piece: linePiece(line, { said, sound }, 0, fresh()), at: null, notes: told });
      notes.push(...told.map((t) => `${file.name}: ${t}`));
    } catch (error) {
      refused.push(why(file, error));
    }
  }
  return { lines, notes, refused };
}

/** Captions spoken one by one, each at its time, as quick as fits into it. */
async function spokenCaptions(bytes: Uint8Array, file: string, voice: Voice, tell: Tell): Promise<ReadyLine[]> {
  const captions = readCaptions(bytes, file);
  if (captions.length > MOST_PIECES)
    throw new UserError(
      `It holds ${captions.length} captions; a trial holds ${MOST_PIECES} lines.`,
      file,
      "Cut it into files of a scene each.",
    );
  const out: ReadyLine[] = [];
  for (const [i, { from, to, text }] of captions.entries()) {
    tell(i / captions.length, `Speaking ${i + 1} of ${captions.length}`);
    const plain = await sayText(text, voice, 1);
    const pace = Math.min(QUICKEST, Math.max(SLOWEST, plain.line.seconds / (to - from)));
    const made = Math.abs(pace - 1) < 0.02 ? plain : await sayText(text, voice, pace);
    const said = { text, voice, pace: Math.abs(pace - 1) < 0.02 ? 1 : pace };
    out.push({ piece: linePiece(made.line, { said, sound: made.sound }, 0, fresh()), at: from, notes: made.notes });
  }
  return out;
}
