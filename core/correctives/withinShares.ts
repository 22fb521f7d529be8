/** Work that yields its share done 0..1, told as a stretch of something longer; it gives what the work gives. */
export function* withinShares<T>(from: number, to: number, work: Generator<number, T>): Generator<number, T> {
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    yield from + (to - from) * value;
  }
}
