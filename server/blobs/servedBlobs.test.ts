import { ServedBlobs } from "./servedBlobs";

/** A store that counts how often each blob is read, and the bytes that come of a blob. */
function store(blobs: Record<string, readonly (readonly number[])[]>) {
  const reads: string[] = [];
  async function* read(hash: string): AsyncGenerator<Uint8Array> {
    reads.push(hash);
    for (const piece of blobs[hash]!) yield await Promise.resolve(Uint8Array.from(piece));
  }
  return { reads, read };
}
async function all(pieces: AsyncIterable<Uint8Array>): Promise<number[]> {
  const out: number[] = [];
  for await (const piece of pieces) out.push(...piece);
  return out;
}

test("a blob is read once and comes in its order each time", async () => {
  const { reads, read } = store({ ab: [[1, 2], [3]] });
  const served = new ServedBlobs(read);
  expect(await all(served.pieces("ab", 3))).toEqual([1, 2, 3]);
  expect(await all(served.pieces("ab", 3))).toEqual([1, 2, 3]);
  expect(reads).toEqual(["ab"]);
});

test("what was not read to its end, or lacks pieces, is not kept", async () => {
  const { reads, read } = store({ ab: [[1, 2], [3]], cd: [[1]] });
  const served = new ServedBlobs(read);
  for await (const piece of served.pieces("ab", 3)) {
    expect([...piece]).toEqual([1, 2]);
    break;
  }
  expect(await all(served.pieces("ab", 3))).toEqual([1, 2, 3]);
  await all(served.pieces("cd", 2));
  await all(served.pieces("cd", 2));
  expect(reads).toEqual(["ab", "ab", "cd", "cd"]);
});

test("the longest unused goes where there is no room for all", async () => {
  const { reads, read } = store({ ab: [[1, 2]], cd: [[3, 4]] });
  const served = new ServedBlobs(read, 3);
  for (const hash of ["ab", "cd", "cd", "ab"]) await all(served.pieces(hash, 2));
  expect(reads).toEqual(["ab", "cd", "ab"]);
});
