import { wrap, type Remote } from "comlink";
import type { Moment } from "~core/evaluate/moment";
import { patchBetween } from "~core/ledger/characterPatch";
import type { Holding } from "~core/model/arrayBytes";
import { ByteCache } from "~core/model/byteCache";
import type { Character } from "~core/model/character";
import type { PicturesApi } from "./drawPictures";

let remote: Remote<PicturesApi> | null = null;
/**
 * What the worker holds, by slot; what it does not hold goes where an earlier state of it is, else where nothing was
 * drawn for longest.
 */
const held: (Character | Uint8Array | null)[] = [null, null];
let last = 0;
let queue: Promise<unknown> = Promise.resolve();

const start = (): Remote<PicturesApi> =>
  (remote ??= wrap<PicturesApi>(new Worker(new URL("./pictures.worker.ts", import.meta.url), { type: "module" })));

/** One after the other. */
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const next = queue.then(work, work);
  queue = next.catch(() => {});
  return next;
}

const MB = 1048576;
interface Picture {
  readonly url: string;
  readonly bytes: number;
}
const pictures = new ByteCache<Picture>(
  "pictures",
  64 * MB,
  (p) => p.bytes,
  (p) => URL.revokeObjectURL(p.url),
);
export const pictureHolding = (): Holding => pictures.holding();

function slotFor(subject: Character | Uint8Array): number {
  const holding = held.indexOf(subject);
  if (holding >= 0) return holding;
  const earlier = held.findIndex(
    (h) => h && !(h instanceof Uint8Array) && "parts" in subject && h.parts === subject.parts,
  );
  return earlier >= 0 ? earlier : 1 - last;
}

/** Address of a picture; drawn once for each key. */
export function pictureOf(
  key: string,
  subject: Character | Uint8Array,
  moment: Partial<Moment>,
  framing: string,
  width: number,
  height: number,
  wanted: () => boolean = () => true,
): Promise<string | null> {
  const known = pictures.get(key);
  if (known) return Promise.resolve(known.url);
  return inTurn(async () => {
    const drawn = pictures.get(key);
    if (drawn) return drawn.url;
    if (!wanted()) return null;
    const api = start();
    last = slotFor(subject);
    const before = held[last]!;
    if (before !== subject) {
      // known again only once it is there: a failure must not pass for what was asked
      held[last] = null;
      if (subject instanceof Uint8Array) await api.loadBytes(last, subject);
      else {
        const known = before instanceof Uint8Array ? null : before;
        await api.load(last, patchBetween(known, subject), known === null);
      }
      held[last] = subject;
    }
    const blob = await api.draw(last, moment, framing, width, height);
    const url = URL.createObjectURL(blob);
    pictures.set(key, { url, bytes: blob.size });
    return url;
  });
}
