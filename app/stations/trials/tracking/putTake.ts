import { pieceSchema, type TakePiece } from "~core/trials/trial";
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

/** Puts a take that was laid on the ruler, kept as it came. */
export async function putTake(store: SessionStore, laid: LaidTake, start: number): Promise<TakePiece> {
  const raw = await keepTake(laid.table);
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
