import { ByteCache } from "../../core/model/byteCache";

const MB = 1048576;
const bytesOf = (pieces: readonly Uint8Array[]): number => pieces.reduce((sum, p) => sum + p.length, 0);

/** Blobs that pages fetched lately: a page and its workers, and the next page, have them without the database. */
export class ServedBlobs {
  private readonly kept: ByteCache<readonly Uint8Array[]>;

  /** @param read gives a blob's pieces in order. */
  constructor(
    private readonly read: (hash: string) => AsyncIterable<Uint8Array>,
    limitBytes = 128 * MB,
  ) {
    this.kept = new ByteCache("blobs that were served", limitBytes, bytesOf);
  }

  /** A blob piece by piece, in order. @param size bytes of it: only when so many were read are they kept. */
  async *pieces(hash: string, size: number): AsyncGenerator<Uint8Array> {
    const known = this.kept.get(hash);
    if (known) return yield* known;
    const pieces: Uint8Array[] = [];
    for await (const piece of this.read(hash)) {
      pieces.push(piece);
      yield piece;
    }
    if (bytesOf(pieces) === size) this.kept.set(hash, pieces);
  }
}
