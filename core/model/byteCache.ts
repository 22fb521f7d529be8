import { LRUCache } from "lru-cache";
import type { Holding } from "./arrayBytes";

/** Things kept by name up to so many bytes; beyond that the longest unused go. */
export class ByteCache<V extends object> {
  private readonly held: LRUCache<string, V>;

  /** @param what it holds, in words. @param bytesOf size of one. @param dropped told of what goes. */
  constructor(
    private readonly what: string,
    private readonly limit: number,
    private readonly bytesOf: (value: V) => number,
    dropped: (value: V) => void = () => {},
  ) {
    this.held = new LRUCache<string, V>({
      maxSize: limit,
      sizeCalculation: (value) => Math.max(1, bytesOf(value)),
      dispose: dropped,
    });
  }

  get(name: string): V | undefined {
    return this.held.get(name);
  }

  /** What is larger than all of it is not kept. */
  set(name: string, value: V): void {
    this.held.set(name, value);
  }

  has(name: string): boolean {
    return this.held.has(name);
  }

  holding(): Holding {
    const bytes = [...this.held.values()].reduce((sum, v) => sum + this.bytesOf(v), 0);
    return { what: this.what, entries: this.held.size, bytes, limit: this.limit };
  }
}
