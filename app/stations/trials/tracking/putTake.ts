import { pieceSchema, type TakePiece } from "~core/trials/trial";
import { takeTable, type Take } from "~core/tracking/take";
import type { TakeSettings } from "~core/trials/takePiece";
import type { LaidTake } from "~jobs/operations/layTake";
import { startJob } from "../../../session/jobs/pageJobs";
import type { Tell } from "../../../session/jobs/useWork";
import type { Loaded, SessionStore } from "../../../session/session";
import { addPiece, changePiece } from "../../../session/slices/trial";
import { keepTake } from "../../../session/tracking/trackerClient";

type Wanted = (Omit<TakeSettings, "map"> & { readonly map: TakeSettings["map"] | null }) | null;

/** Reads a take's file and lays it on the character, on a thread of its own. */
export const laidTake = (
  loaded: Loaded,
  file: { readonly name: string; readonly bytes: Uint8Array },
  settings: Wanted,
  tell: Tell,
  signal: AbortSignal,
): Promise<LaidTake> => startJob(loaded, "lay take", { file, settings }, { progress: (share) => tell(share), signal });

/**
 * Puts a take that was laid on the ruler, kept as it came. Where the server cannot keep that, the take is on the ruler
 * all the same: it only cannot be steadied anew.
 */
export async function putTake(store: SessionStore, laid: LaidTake, start: number): Promise<TakePiece> {
  const raw = await keepTake(laid.table).catch(() => null);
  const piece = pieceSchema.parse({
    kind: "take",
    id: crypto.randomUUID(),
    name: laid.name.slice(0, 200),
    raw,
    face: laid.face,
    steady: laid.steady,
    map: laid.map,
    start,
    to: laid.seconds,
  }) as TakePiece;
  addPiece(store, "tracking", piece);
  return piece;
}

/** Puts what was recorded on the ruler, as the live face was laid on. */
export async function putRecorded(
  store: SessionStore,
  loaded: Loaded,
  take: Take,
  start: number,
  tell: Tell,
  signal: AbortSignal,
): Promise<TakePiece> {
  const file = { name: `${take.name}.csv`, bytes: new TextEncoder().encode(takeTable(take)) };
  return putTake(store, await laidTake(loaded, file, store.getState().faceSettings, tell, signal), start);
}

/** Steadies a take on the ruler anew, from what came. @returns false where that is not kept. */
export async function steadyAnew(
  store: SessionStore,
  loaded: Loaded,
  piece: TakePiece,
  change: Partial<Omit<TakeSettings, "map">>,
  tell: Tell,
  signal: AbortSignal,
): Promise<LaidTake | null> {
  const bytes = await rawOf(piece);
  if (!bytes) return null;
  const settings = { map: piece.map, steady: piece.steady, tolerance: piece.face.tolerance, ...change };
  const laid = await laidTake(loaded, { name: `${piece.name}.csv`, bytes }, settings, tell, signal);
  changePiece(store, piece.id, { face: laid.face, steady: laid.steady } as Partial<TakePiece>);
  return laid;
}

/** A take as it came, a table; null where it is not kept. */
export async function rawOf({ raw }: Pick<TakePiece, "raw">): Promise<Uint8Array | null> {
  if (!raw) return null;
  const answer = await fetch(`/api/blobs/${raw}`);
  return answer.ok ? new Uint8Array(await answer.arrayBuffer()) : null;
}
