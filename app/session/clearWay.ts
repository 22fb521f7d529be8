/** So long work that can wait is held back for what is seen first, ms. */
const MOST_MS = 3000;

let clear: () => void = () => {};
let way: Promise<void> | null = null;

/**
 * Says that small pictures are what is seen first: the stage and measuring, which would take the processor from them,
 * wait for `wayIsClear`, a moment at most. Only the first view of a page is waited for.
 */
export function picturesFirst(): void {
  way ??= new Promise((resolve) => {
    clear = resolve;
    setTimeout(resolve, MOST_MS);
  });
}
/** What is seen first is there, or is not wanted any more. */
export function wayIsClear(): void {
  way ??= Promise.resolve();
  clear();
}
/** Settled when work that can wait may begin. */
export const clearWay = (): Promise<void> => (way ??= Promise.resolve());

let drawn: () => void = () => {};
const stage = new Promise<void>((resolve) => (drawn = resolve));
/** The stage has drawn its first frame. */
export const stageIsDrawn = (): void => drawn();

/**
 * Fetches what may be needed later, once the stage is drawn or has had time to be; what cannot be fetched then is asked
 * for again when it is needed.
 */
export const fetchWhenClear = (fetch: () => Promise<unknown>): void =>
  void clearWay()
    .then(() => Promise.race([stage, new Promise((resolve) => setTimeout(resolve, MOST_MS))]))
    .then(fetch)
    .catch(() => {});

// where the first script of the page has started what draws, nothing else begins before it, whichever asks first
if (typeof window !== "undefined" && window.earlyWorkers?.pictures) picturesFirst();
