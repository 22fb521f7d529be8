import { FinerWhenStill } from "./finerWhenStill";

/** Ratios of the frames that were drawn, and the clock that is waited for. */
function drawn(): { ratios: number[]; frame: () => void; wait: () => void; stop: () => void } {
  let ratio = 1;
  const ratios: number[] = [];
  const renderer = { getPixelRatio: () => ratio, setPixelRatio: (r: number) => void (ratio = r) };
  const timers = new Map<number, () => void>();
  const real = { set: globalThis.setTimeout, clear: globalThis.clearTimeout };
  globalThis.setTimeout = ((run: () => void) => (timers.set(timers.size + 1, run), timers.size)) as never;
  globalThis.clearTimeout = ((id: number) => timers.delete(id)) as never;
  const still = new FinerWhenStill(renderer, () => frame());
  const frame = (): void => {
    still.begin();
    ratios.push(ratio);
  };
  const wait = (): void => {
    const due = [...timers.values()];
    timers.clear();
    for (const run of due) run();
  };
  const stop = (): void => {
    still.end();
    Object.assign(globalThis, { setTimeout: real.set, clearTimeout: real.clear });
  };
  return { ratios, frame, wait, stop };
}

describe("a stage that the processor draws", () => {
  it("is drawn finely once when it has come to rest, and plainly while it moves", () => {
    const { ratios, frame, wait, stop } = drawn();
    frame();
    frame();
    wait();
    wait();
    expect(ratios).toEqual([1, 1, 2]);
    frame();
    wait();
    expect(ratios).toEqual([1, 1, 2, 1, 2]);
    stop();
  });
  it("is not drawn any more when it is gone", () => {
    const { ratios, frame, wait, stop } = drawn();
    frame();
    stop();
    wait();
    expect(ratios).toEqual([1]);
  });
});
