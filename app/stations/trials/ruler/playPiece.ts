import { endOf, type Piece } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import type { SessionStore } from "../../../session/session";

/** Plays a piece of the ruler over and over, from its beginning. */
export function playPiece(store: SessionStore, piece: Piece): void {
  const player = playerOf(store);
  player.pause();
  player.setLoop([piece.start, endOf(piece)]);
  player.seek(piece.start);
  player.play();
}
