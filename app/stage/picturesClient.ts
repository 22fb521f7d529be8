import { wrap, type Remote } from "comlink";
import type { Moment } from "~core/evaluate/moment";
import type { Character } from "~core/model/character";
import type { PicturesApi } from "./pictures.worker";

let remote: Remote<PicturesApi> | null = null;
/** What the worker holds, by slot; the slot that was used longest ago is taken for what it does not hold. */
const held: unknown[] = [null, null];
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

const urls = new Map<string, string>();

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
  const known = urls.get(key);
  if (known) return Promise.resolve(known);
  return inTurn(async () => {
    const drawn = urls.get(key);
    if (drawn) return drawn;
    if (!wanted()) return null;
    const api = start();
    if (held[last] !== subject) last = 1 - last;
    if (held[last] !== subject) {
      await (subject instanceof Uint8Array ? api.loadBytes(last, subject) : api.load(last, subject));
      held[last] = subject;
    }
    const url = URL.createObjectURL(await api.draw(last, moment, framing, width, height));
    urls.set(key, url);
    return url;
  });
}
