import type { LinePiece } from "~core/trials/trial";
import type { SessionStore } from "../../../session/session";
import { closePiece, openPiece } from "../ruler/openPiece";

/** Room on either side of a line that is opened, seconds. */
const ROOM = 0.1;

export const openLine = (store: SessionStore, piece: LinePiece): void => openPiece(store, piece, ROOM);
export const closeLine = closePiece;
