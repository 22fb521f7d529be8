import { wrap, type Remote } from "comlink";
import type { Moment } from "~core/deform/rig";
import type { Character } from "~core/model/character";
import type { PicturesApi } from "./pictures.worker";

let remote: Remote<PicturesApi> | null = null;
let held: unknown = null;
let queue: Promise<unknown> = Promise.resolve();

const start = (): Remote<PicturesApi> => (remote ??= wrap<PicturesApi>(new Worker(new URL("./pictures.worker.ts", import.meta.url), { type: "module" })));

/** One after the other: the worker holds one character at a time. */
function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const next = queue.then(work, work);
  queue = next.catch(() => {});
  return next;
}

const urls = new Map<string, string>();

/** Address of a picture; drawn once for each key. */
export function pictureOf(key: string, subject: Character | Uint8Array, moment: Partial<Moment>, framing: string, width: number, height: number, wanted: () => boolean = () => true): Promise<string | null> {
  const known = urls.get(key);
  if (known) return Promise.resolve(known);
  return inTurn(async () => {
    const drawn = urls.get(key);
    if (drawn) return drawn;
    if (!wanted()) return null;
    const api = start();
    if (held !== subject) {
      await (subject instanceof Uint8Array ? api.loadBytes(subject) : api.load(subject));
      held = subject;
    }
    const url = URL.createObjectURL(await api.draw(moment, framing, width, height));
    urls.set(key, url);
    return url;
  });
}
