import { fetchBlob } from "./fetchBlob";

const real = globalThis.fetch;
afterEach(() => {
  globalThis.fetch = real;
});

describe("geometry by its hash", () => {
  it("is asked for past the cache when an answer brings nothing any more, and kept then", async () => {
    const asked: (string | undefined)[] = [];
    globalThis.fetch = ((_url: string, { signal, cache }: RequestInit) => {
      asked.push(cache);
      if (cache === "reload") return Promise.resolve(new Response(Uint8Array.of(1, 2, 3)));
      return new Promise((_, reject) => signal!.addEventListener("abort", () => reject(new Error("aborted"))));
    }) as never;
    expect([...(await fetchBlob("a", 20))]).toEqual([1, 2, 3]);
    expect([...(await fetchBlob("a"))]).toEqual([1, 2, 3]);
    expect(asked).toEqual(["default", "reload"]);
  });
  it("is asked for in turn with other threads, and handed on when the turn is over", async () => {
    const turns: string[] = [];
    const real = Object.getOwnPropertyDescriptor(globalThis, "navigator");
    const locks = {
      request: async (name: string, work: () => Promise<unknown>) => {
        turns.push(`${name} begins`);
        const out = await work();
        turns.push(`${name} ends`);
        return out;
      },
    };
    Object.defineProperty(globalThis, "navigator", { value: { locks }, configurable: true });
    globalThis.fetch = (() => {
      turns.push("asked");
      return Promise.resolve(new Response(Uint8Array.of(4)));
    }) as never;
    try {
      expect([...(await fetchBlob("c"))]).toEqual([4]);
    } finally {
      if (real) Object.defineProperty(globalThis, "navigator", real);
      else delete (globalThis as { navigator?: unknown }).navigator;
    }
    expect(turns).toEqual(["yxomorph blob c begins", "asked", "yxomorph blob c ends"]);
  });
  it("that is refused is asked for again the next time", async () => {
    let status = 503;
    globalThis.fetch = (() => Promise.resolve(new Response("x", { status }))) as never;
    await expect(fetchBlob("b")).rejects.toThrow(/database does not answer/);
    status = 200;
    expect((await fetchBlob("b")).length).toBe(1);
  });
});
