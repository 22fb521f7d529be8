import type { ChannelMap } from "~core/tracking/channelMap";
import { faceAt } from "~core/tracking/recordedFace";
import { channelsOfTake } from "~core/trials/takeMoment";
import type { TakeSettings } from "~core/trials/takePiece";
import type { TakePiece } from "~core/trials/trial";
import { useSession, useSessionStore, type SessionStore } from "../../../session/session";
import { liveFaceOf } from "../../../session/tracking/liveFace";
import { changeFaceSettings } from "../../../session/slices/tracking";
import { changePiece, pieceOf } from "../../../session/slices/trial";

/** The face whose channels are worked on: a take that is chosen on the ruler, else the live one. */
export interface FaceInHand {
  readonly piece: TakePiece | null;
  readonly channels: readonly string[];
  readonly settings: TakeSettings;
  readonly setMap: (map: ChannelMap, same?: boolean) => void;
  /** Values of its channels at this moment; null where there are none. */
  readonly now: () => ArrayLike<number> | null;
}

/** The take that is chosen on the ruler. */
export function useChosenTake(): TakePiece | null {
  const trial = useSession((s) => s.trial);
  const id = useSession((s) => s.piece);
  const found = trial && pieceOf(trial, id)?.piece;
  return found?.kind === "take" ? found : null;
}

export function useFaceInHand(): FaceInHand | null {
  const store = useSessionStore();
  const piece = useChosenTake();
  const live = useSession((s) => s.faceSettings);
  const channels = useSession((s) => s.tracker.channels);
  if (piece)
    return {
      piece,
      channels: channelsOfTake(piece.face),
      settings: { map: piece.map, steady: piece.steady, tolerance: piece.face.tolerance },
      setMap: (map, same) => changePiece(store, piece.id, { map } as Partial<TakePiece>, same),
      now: () => valuesAt(store, piece),
    };
  if (!live || channels.length === 0) return null;
  return {
    piece: null,
    channels,
    settings: live,
    setMap: (map, same) => changeFaceSettings(store, { map }, same),
    now: () => liveFaceOf(store).raw,
  };
}

/** What a take shows where the needle stands; null beside it. */
function valuesAt(store: SessionStore, { start, from, to, speed, face }: TakePiece): ArrayLike<number> | null {
  const own = from + (store.getState().playback.seconds - start) * speed;
  return own < from - 1e-6 || own > to + 1e-6 ? null : faceAt(face, own).values;
}
