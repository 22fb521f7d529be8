import type * as ClearWay from "./clearWay";

/** A new copy of the module for each case: it waits once in the life of a page. */
const fresh = async (n: number): Promise<typeof ClearWay> => (await import(`./clearWay?${n}`)) as typeof ClearWay;
const settled = async (promise: Promise<void>): Promise<boolean> =>
  Promise.race([promise.then(() => true), new Promise<false>((r) => setTimeout(() => r(false), 20))]);

describe("work that can wait", () => {
  it("begins at once where no pictures are seen first, whatever is said later", async () => {
    const { clearWay, picturesFirst } = await fresh(1);
    expect(await settled(clearWay())).toBe(true);
    picturesFirst();
    expect(await settled(clearWay())).toBe(true);
  });
  it("waits for the pictures, and for them once", async () => {
    const { clearWay, picturesFirst, wayIsClear } = await fresh(2);
    picturesFirst();
    expect(await settled(clearWay())).toBe(false);
    wayIsClear();
    expect(await settled(clearWay())).toBe(true);
    picturesFirst();
    expect(await settled(clearWay())).toBe(true);
  });
  it("waits for pictures that the page's first script has asked for, whichever asks first", async () => {
    globalThis.window = { earlyWorkers: { pictures: {} } } as never;
    const { clearWay, wayIsClear } = await fresh(4);
    delete (globalThis as { window?: unknown }).window;
    expect(await settled(clearWay())).toBe(false);
    wayIsClear();
    expect(await settled(clearWay())).toBe(true);
  });
  it("is fetched when the stage is drawn, after what is seen before it", async () => {
    const { fetchWhenClear, picturesFirst, stageIsDrawn, wayIsClear } = await fresh(5);
    let fetched = 0;
    const came = async (): Promise<number> => (await new Promise((r) => setTimeout(r, 20)), fetched);
    picturesFirst();
    fetchWhenClear(async () => fetched++);
    expect(await came()).toBe(0);
    wayIsClear();
    expect(await came()).toBe(0);
    stageIsDrawn();
    expect(await came()).toBe(1);
    fetchWhenClear(async () => fetched++);
    expect(await came()).toBe(2);
  });
  it("waits no longer than three seconds for pictures that do not come", async () => {
    const { clearWay, picturesFirst } = await fresh(3);
    const real = globalThis.setTimeout;
    const waits: number[] = [];
    globalThis.setTimeout = ((run: () => void, ms: number) => {
      waits.push(ms);
      return real(run, 0);
    }) as never;
    picturesFirst();
    globalThis.setTimeout = real;
    expect(await settled(clearWay())).toBe(true);
    expect(waits).toEqual([3000]);
  });
});
