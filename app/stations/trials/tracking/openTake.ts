import { endOf, type TakePiece } from "~core/trials/trial";
import { playerOf } from "../../../session/playback";
import type { SessionStore } from "../../../session/session";
import { selectPiece, setSeen } from "../../../session/slices/trial";
import { lookAt } from "../../../session/slices/view";
import { setFaceReadings } from "../../../session/slices/tracking";

/** Room on either side of a take that is opened, seconds. */
const ROOM = 0.2;

/** Opens a take: chosen, alone on the ruler, the needle at its beginning, the face on the stage. */
export function openTake(store: SessionStore, piece: TakePiece): void {
  selectPiece(store, piece.id);
  setFaceReadings(store, null);
  setSeen(store, [Math.max(0, piece.start - ROOM), endOf(piece) + ROOM]);
  playerOf(store).seek(piece.start);
  lookAt(store, { framing: "face" });
}

export function closeTake(store: SessionStore): void {
  selectPiece(store, null);
  setFaceReadings(store, null);
  setSeen(store, null);
}
