import { endOf, type LinePiece } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import type { SessionStore } from "../../../session/session";
import { selectPiece, setSeen } from "../../../session/slices/trial";
import { lookAt } from "../../../session/slices/view";

/** Room on either side of a line that is opened, seconds. */
const ROOM = 0.1;

/** Opens a line: chosen, alone on the ruler, the needle at its beginning, the face on the stage. */
export function openLine(store: SessionStore, piece: LinePiece): void {
  selectPiece(store, piece.id);
  setSeen(store, [Math.max(0, piece.start - ROOM), endOf(piece) + ROOM]);
  playerOf(store).seek(piece.start);
  lookAt(store, { framing: "face" });
}

export function closeLine(store: SessionStore): void {
  selectPiece(store, null);
  setSeen(store, null);
}
