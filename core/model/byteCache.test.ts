import { arrayBytes } from "./arrayBytes";
import { ByteCache } from "./byteCache";

describe("a cache with a limit in bytes", () => {
  const bytes = (n: number): Uint8Array => new Uint8Array(n);
  it("lets the longest unused go, and tells of it", () => {
    const gone: number[] = [];
    const cache = new ByteCache<Uint8Array>(
      "geometry",
      100,
      (b) => b.length,
      (b) => gone.push(b.length),
    );
    cache.set("a", bytes(40));
    cache.set("b", bytes(50));
    expect(cache.get("a")).toBeDefined();
    cache.set("c", bytes(30));
    expect([cache.has("a"), cache.has("b"), cache.has("c"), gone]).toEqual([true, false, true, [50]]);
    expect(cache.holding()).toEqual({ what: "geometry", entries: 2, bytes: 70, limit: 100 });
  });
  it("does not keep what is larger than all of it", () => {
    const cache = new ByteCache<Uint8Array>("geometry", 100, (b) => b.length);
    cache.set("a", bytes(101));
    expect(cache.holding()).toMatchObject({ entries: 0, bytes: 0 });
  });
});
it("bytes of arrays are counted once, and those that are known not at all", () => {
  const shared = new Float32Array(10);
  const data = { a: shared, b: [{ c: shared, d: new Uint16Array(4) }], e: "text", f: null };
  expect(arrayBytes(data)).toBe(48);
  expect(arrayBytes(data, new Set([shared]))).toBe(8);
});
