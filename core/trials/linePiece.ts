import type { SpokenLine } from "../speech/phones";
import { carriedTime } from "../speech/handEdits";
import { pieceSchema, type Curve, type LinePiece } from "./trial";

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

/** Keys by hand where they belong on a line that was spoken anew, still in order of time. */
function carried(curve: Curve, from: SpokenLine, to: SpokenLine): Curve {
  let last = -1;
  const times = curve.times.map((t) => (last = Math.max(last + 1e-3, carriedTime(from, to, t))));
  return { ...curve, times };
}

/** A line spoken anew where it stands: what was changed by hand stays, and waits where its word is gone. */
export const remade = (piece: LinePiece, line: SpokenLine, origin: LineOrigin): LinePiece => ({
  ...piece,
  ...origin,
  line: line as LinePiece["line"],
  curves: Object.fromEntries(Object.entries(piece.curves).map(([v, c]) => [v, carried(c, piece.line, line)])),
  from: 0,
  to: line.seconds,
  name: piece.name === nameOfLine(piece.line) ? nameOfLine(line) : piece.name,
});
