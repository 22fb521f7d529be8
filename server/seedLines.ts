import { LINE_TEXTS, LINES_APART, VOICE_OF } from "../demo/lines/spoken";
import { linePiece } from "../core/trials/linePiece";
import { emptyTrial, endOf, type LinePiece } from "../core/trials/trial";
import { sayLine } from "../voice/sayLine";
import { sha256 } from "./blobs/blobStore";
import type { Db } from "./db/connect";
import { arrangements } from "./db/schema";
import { keepSound } from "./services/sounds";

/** Name of the demo's spoken trial. */
export const LINES_TRIAL = "Six lines";

/** The demo's six lines in a character's voice, one after another, as a kept trial. */
export async function seedLines(db: Db, characterId: string): Promise<void> {
  const voice = VOICE_OF[characterId];
  if (!voice) return;
  const pieces: LinePiece[] = [];
  for (const { id, text } of LINE_TEXTS) {
    const { line, wav } = await sayLine(text, voice);
    const last = pieces[pieces.length - 1];
    const start = last ? endOf(last) + LINES_APART : 0;
    const origin = { said: { text, voice, pace: 1 }, sound: await keepSound(db, wav) };
    pieces.push(linePiece(line, origin, start, `line ${id}`));
  }
  const trial = emptyTrial(LINES_TRIAL);
  const id = sha256(`lines of ${characterId}`);
  const named = [id.slice(0, 8), id.slice(8, 12), id.slice(12, 16), id.slice(16, 20), id.slice(20, 32)].join("-");
  await db
    .insert(arrangements)
    .values({ id: named, characterId, trial: { ...trial, lanes: { ...trial.lanes, speech: pieces } } })
    .onConflictDoNothing();
}
