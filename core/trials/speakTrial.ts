import { weightsAt } from "../evaluate/evaluate";
import { REST_MOMENT } from "../evaluate/moment";
import type { Character } from "../model/character";
import { withHand } from "../speech/handEdits";
import type { Weights } from "../speech/mouth";
import { speak, type Spoken, type Under } from "../speech/speak";
import { valueAt } from "./keyCurve";
import { sourcesAt } from "./momentAt";
import { keepSpoken, keyOfLine, linesOf, spokenOf } from "./spokenLines";
import { LANES } from "./lanes";
import type { LinePiece, Piece, Trial } from "./trial";

/** The trial without what is spoken: what stands under the lines. */
const unspoken = (trial: Trial): Trial => ({
  ...trial,
  lanes: Object.fromEntries(
    LANES.map((lane) => [lane, trial.lanes[lane].filter((p) => p.kind !== "line")]),
  ) as Trial["lanes"],
});

/** Whether a piece moves any shape of a character. */
function movesShapes(character: Character, p: Piece): boolean {
  if (p.kind === "keys") return Object.keys(p.keys.shapes).length > 0;
  if (p.kind === "clip") return character.clips.some((c) => c.name === p.clip && (c.weights?.length ?? 0) > 0);
  return true;
}

/** Weights of the shapes that play under a line, by its own time; none where nothing does. */
function underOf(character: Character, trial: Trial, piece: LinePiece): Under {
  const others = unspoken(trial);
  const moves = LANES.some((lane) => others.lanes[lane].some((p) => p.on && movesShapes(character, p)));
  if (!moves) return {};
  const at = new Map<number, Weights>();
  return (seconds) => {
    const frame = Math.round(200 * seconds);
    const found = at.get(frame);
    if (found) return found;
    const time = piece.start + (seconds - piece.from) / piece.speed;
    const sources = sourcesAt(character, others, time, trial);
    const all = weightsAt(character, { ...REST_MOMENT, drivers: false, sources });
    const weights: Record<string, number> = {};
    all.forEach((w, s) => {
      if (Math.abs(w) > 1e-4) weights[character.shapes[s]!.name] = w;
    });
    at.set(frame, weights);
    return weights;
  };
}

/** One line as the character speaks it where it stands in a trial; worked out if it was not yet. */
export function speakPiece(character: Character, trial: Trial, piece: LinePiece): Spoken {
  const found = spokenOf(character, trial, piece);
  if (found) return found;
  const { line } = withHand(piece.line, piece.hand);
  const added = (viseme: number, seconds: number): number => {
    const curve = piece.curves[viseme];
    return curve ? valueAt(curve, 1, seconds)[0]! : 0;
  };
  const spoken = speak(character, line, {
    manner: piece.manner,
    under: underOf(character, trial, piece),
    ...(Object.keys(piece.curves).length ? { added } : {}),
  });
  keepSpoken(character, keyOfLine(trial, piece), spoken);
  return spoken;
}

/** Works out every line of a trial: whoever plays or measures it on a thread of its own calls this first. */
export const speakTrial = (character: Character, trial: Trial): void => {
  for (const piece of linesOf(trial)) speakPiece(character, trial, piece);
};
