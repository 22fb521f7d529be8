/** Bytes of all typed arrays in plain data, each buffer's view once. @param known arrays that are not counted. */
export function arrayBytes(data: unknown, known: Set<unknown> = new Set()): number {
  if (typeof data !== "object" || data === null || known.has(data)) return 0;
  known.add(data);
  if (ArrayBuffer.isView(data)) return data.byteLength;
  return Object.values(data).reduce((sum: number, x) => sum + arrayBytes(x, known), 0);
}

/** What a cache holds, to be told. */
export interface Holding {
  readonly what: string;
  readonly entries: number;
  readonly bytes: number;
  readonly limit: number;
}
