import type { SpokenLine } from "../speech/phones";
import { pieceSchema, type LinePiece } from "./trial";

/** What a line is made from. */
export interface LineOrigin {
  readonly said: LinePiece["said"];
  readonly sound: string | null;
}

/** Longest name of a line, signs. */
const NAME = 48;
/** A name for a line: the beginning of what it says. */
export function nameOfLine({ words }: Pick<SpokenLine, "words">, otherwise = "line"): string {
  const text = words.map((w) => w.text).join(" ");
  if (!text) return otherwise;
  return text.length > NAME ? `${text.slice(0, NAME - 1).trimEnd()}…` : text;
}

/** A whole line where it begins on the ruler. */
export const linePiece = (
  line: SpokenLine,
  { said, sound }: LineOrigin,
  start: number,
  id: string,
  name = nameOfLine(line),
): LinePiece =>
  pieceSchema.parse({
    kind: "line",
    id: id.slice(0, 60),
    name,
    said,
    sound,
    line,
    start,
    to: line.seconds,
  }) as LinePiece;

/** A line spoken anew where it stands: what was changed by hand stays, and waits where its word is gone. */
export const remade = (piece: LinePiece, line: SpokenLine, origin: LineOrigin): LinePiece => ({
  ...piece,
  ...origin,
  line: line as LinePiece["line"],
  from: 0,
  to: line.seconds,
  name: piece.name === nameOfLine(piece.line) ? nameOfLine(line) : piece.name,
});
