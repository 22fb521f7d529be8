import type { TakePiece } from "~core/trials/trial";
import type { SessionStore } from "../../../session/session";
import { setFaceReadings } from "../../../session/slices/tracking";
import { closePiece, openPiece } from "../ruler/openPiece";

/** Room on either side of a take that is opened, seconds. */
const ROOM = 0.2;

/** Opens a take; what was read of another face is let go. */
export function openTake(store: SessionStore, piece: TakePiece): void {
  setFaceReadings(store, null);
  openPiece(store, piece, ROOM);
}

export function closeTake(store: SessionStore): void {
  setFaceReadings(store, null);
  closePiece(store);
}
