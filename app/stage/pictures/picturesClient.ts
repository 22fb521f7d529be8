import { wrap, type Remote } from "comlink";
import type { Moment } from "~core/evaluate/moment";
import { patchBetween } from "~core/ledger/characterPatch";
import type { Holding } from "~core/model/arrayBytes";
import { ByteCache } from "~core/model/byteCache";
import type { Character } from "~core/model/character";
import type { LedgerState } from "~workers/fetchState";
import { isState } from "../../session/characterStates";
import { earlyWorker } from "../../session/earlyWorkers";
import type { PicturesApi } from "./drawPictures";

let remote: Remote<PicturesApi> | null = null;
/**
 * What the worker holds, by slot; what it does not hold goes where an earlier state of it is, else where nothing was
 * drawn for longest.
 */
const held: (Character | Uint8Array | null)[] = [null, null];
let last = 0;

/** The state that a worker started early makes by itself; null once it was asked for. */
let made: Promise<LedgerState | null> | null = null;

function start(): Remote<PicturesApi> {
  if (remote) return remote;
  const early = earlyWorker("pictures");
  remote = wrap<PicturesApi>(early ?? new Worker(new URL("./pictures.worker.ts", import.meta.url), { type: "module" }));
  if (early) made = remote.expected();
  return remote;
}

/** Fetches and starts what draws before the first picture is asked for. */
export const expectPictures = (): void => void start();

/** What the worker made by itself counts as held when it is what is asked for. */
async function takeMade(subject: Character | Uint8Array): Promise<void> {
  if (!made) return;
  const state = await made.catch(() => null);
  made = null;
  if (state && !(subject instanceof Uint8Array) && isState(subject, state)) held[0] = subject;
}

/** Work that says when the next may begin beside it; at its end at the latest. */
type Work<T> = (next: () => void) => Promise<T>;
interface Waiting {
  readonly order: number;
  readonly work: Work<void>;
}
const waiting: Waiting[] = [];
let busy = false;

/** One after the other, the lowest in order of those that wait then. */
function inTurn<T>(order: number, work: Work<T>): Promise<T> {
  return new Promise((resolve, reject) => {
    waiting.push({ order, work: (next) => work(next).then(resolve, reject) });
    if (!busy) void workOn();
  });
}

async function workOn(): Promise<void> {
  busy = true;
  // those that are asked for in the same moment are all there before the first is chosen
  await Promise.resolve();
  for (;;) {
    const next = waiting.reduce<Waiting | null>((first, w) => (first && first.order <= w.order ? first : w), null);
    if (!next) break;
    waiting.splice(waiting.indexOf(next), 1);
    await new Promise<void>((free) => void next.work(free).finally(free));
  }
  busy = false;
}

/** The picture that was asked for last: one more is on its way while it is drawn, so that the worker never waits. */
let drawing: Promise<unknown> = Promise.resolve();

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

/** Address of a picture; drawn once for each key. @param order the lowest of those that wait is drawn next. */
export function pictureOf(
  key: string,
  subject: Character | Uint8Array,
  moment: Partial<Moment>,
  framing: string,
  width: number,
  height: number,
  wanted: () => boolean = () => true,
  order = 0,
): Promise<string | null> {
  const known = pictures.get(key);
  if (known) return Promise.resolve(known.url);
  return inTurn(order, async (next) => {
    const drawn = pictures.get(key);
    if (drawn) return drawn.url;
    if (!wanted()) return null;
    const api = start();
    await takeMade(subject);
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
    const asked = api.draw(last, moment, framing, { width, height, fine: devicePixelRatio > 1 });
    void drawing.then(next, next);
    drawing = asked;
    const blob = await asked;
    const url = URL.createObjectURL(blob);
    pictures.set(key, { url, bytes: blob.size });
    return url;
  });
}
