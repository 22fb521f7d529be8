/** Indices below a limit that are gathered again and again: emptied at once, nothing is allocated. */
export class IndexSet {
  /** Round in which each index was last added. */
  private readonly added: Uint32Array;
  private readonly items: Uint32Array;
  private round = 1;
  private count = 0;

  constructor(limit: number) {
    this.added = new Uint32Array(limit);
    this.items = new Uint32Array(limit);
  }

  clear(): void {
    this.count = 0;
    this.round++;
  }

  add(index: number): void {
    if (this.added[index] === this.round) return;
    this.added[index] = this.round;
    this.items[this.count++] = index;
  }

  has(index: number): boolean {
    return this.added[index] === this.round;
  }

  /** What was added, in the order in which it came; it holds until the next change. */
  members(): Uint32Array {
    return this.items.subarray(0, this.count);
  }
}
