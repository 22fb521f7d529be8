import { endOf, type Piece } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import type { SessionStore } from "../../../session/session";
import { selectPiece, setSeen } from "../../../session/slices/trial";
import { lookAt } from "../../../session/slices/view";

/** Opens a piece: chosen, alone on the ruler with so much room beside it, the needle at its start, the face shown. */
export function openPiece(store: SessionStore, piece: Piece, room: number): void {
  selectPiece(store, piece.id);
  setSeen(store, [Math.max(0, piece.start - room), endOf(piece) + room]);
  playerOf(store).seek(piece.start);
  lookAt(store, { framing: "face" });
}

export function closePiece(store: SessionStore): void {
  selectPiece(store, null);
  setSeen(store, null);
}
