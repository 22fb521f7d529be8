import { wrap, type Endpoint } from "comlink";
import { exposeOnceLoaded, type Scope } from "./exposeOnceLoaded";

/** A thread's two ends; what is sent when nothing listens is lost, as in a browser. */
function thread(): { page: Endpoint; scope: Scope } {
  const end = (): EventTarget & { other?: EventTarget; postMessage: (data: unknown) => void } => {
    const target = new EventTarget() as ReturnType<typeof end>;
    target.postMessage = (data) => {
      const other = target.other!;
      queueMicrotask(() => other.dispatchEvent(new MessageEvent("message", { data: structuredClone(data) })));
    };
    return target;
  };
  const [page, scope] = [end(), end()];
  page.other = scope;
  scope.other = page;
  return { page: page as unknown as Endpoint, scope: scope as unknown as Scope };
}
interface Counter {
  add(n: number): number;
}

describe("a worker whose code comes late", () => {
  it("answers what was asked before, in its order", async () => {
    const { page, scope } = thread();
    let sum = 0;
    let arrive: (counter: Counter) => void = () => {};
    const exposed = exposeOnceLoaded(() => new Promise((resolve) => (arrive = resolve)), scope);
    const counter = wrap<Counter>(page);
    const answers = [counter.add(1), counter.add(10)];
    await new Promise((r) => setTimeout(r, 5));
    arrive({ add: (n) => (sum = sum * 2 + n) });
    await exposed;
    expect(await Promise.all([...answers, counter.add(100)])).toEqual([1, 12, 124]);
  });

  it("begins with the character that it was named by, before it answers", async () => {
    const { page, scope } = thread();
    Object.assign(scope, { name: JSON.stringify({ id: "oda", state: null }) });
    const real = globalThis.fetch;
    const fetched: string[] = [];
    globalThis.fetch = ((url: string) => {
      fetched.push(url);
      return Promise.resolve(new Response(JSON.stringify({ baseBlob: "ab", steps: [] })));
    }) as never;
    const told: Promise<{ baseBlob: string }>[] = [];
    let arrive: (offered: object) => void = () => {};
    try {
      const exposed = exposeOnceLoaded(() => new Promise((resolve) => (arrive = resolve)), scope);
      const asked = wrap<{ told(): number }>(page).told();
      await new Promise((r) => setTimeout(r, 5));
      // what it needs is on the way before its code has come
      expect(fetched).toEqual(["/api/characters/oda/state", "/api/blobs/ab"]);
      arrive({ expect: (state: Promise<{ baseBlob: string }>) => void told.push(state), told: () => told.length });
      await exposed;
      expect(await asked).toBe(1);
    } finally {
      globalThis.fetch = real;
    }
    expect((await told[0]!).baseBlob).toBe("ab");
  });

  it("does not fetch a state that it was given", async () => {
    const { scope } = thread();
    const state = { baseBlob: "cd", steps: [] };
    Object.assign(scope, { name: JSON.stringify({ id: "oda", state }) });
    const real = globalThis.fetch;
    const fetched: string[] = [];
    globalThis.fetch = ((url: string) => {
      fetched.push(url);
      return Promise.resolve(new Response("geometry"));
    }) as never;
    const told: Promise<unknown>[] = [];
    try {
      const expecting = { expect: (coming: Promise<unknown>) => void told.push(coming) };
      await exposeOnceLoaded(() => Promise.resolve(expecting), scope);
      expect(await told[0]).toEqual(state);
      expect(fetched).toEqual(["/api/blobs/cd"]);
    } finally {
      globalThis.fetch = real;
    }
  });

  it("answers with an error where the code cannot be fetched", async () => {
    const { page, scope } = thread();
    const exposed = exposeOnceLoaded(() => Promise.reject(new Error("no network")), scope);
    const asked = wrap<Counter>(page).add(1);
    await exposed;
    await expect(asked).rejects.toThrow("could not be fetched. Load the page again");
  });
});
