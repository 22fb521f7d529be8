import { createHash } from "node:crypto";
import { and, eq, inArray, sql } from "drizzle-orm";
import { UserError } from "../../core/model/userError";
import type { Db } from "../db/connect";
import { blobChunks, blobs } from "../db/schema";

export const sha256 = (bytes: Uint8Array | string): string => createHash("sha256").update(bytes).digest("hex");

/** Length of every piece but the last, bytes. A query holds one piece, and its text form, at a time. */
export const PIECE_BYTES = 4 * 1024 * 1024;

export type Tx = Parameters<Parameters<Db["transaction"]>[0]>[0];
type Reader = Pick<Db, "select">;

/** Bytes that come one after the other, in pieces of any length. */
export type ByteStream = Iterable<Uint8Array> | AsyncIterable<Uint8Array>;

/** Keeps the blobs that a transaction refers to from being collected before it ends. */
export const holdBlobs = async (tx: Tx): Promise<void> =>
  void (await tx.execute(sql`lock table ${blobs} in row exclusive mode`));

/** Stores bytes under their hash within a transaction; the same bytes are stored once. @returns their hash. */
export async function putBlob(tx: Tx, bytes: Uint8Array): Promise<string> {
  const hash = sha256(bytes);
  await putStream(tx, hash, bytes.length, [bytes]);
  return hash;
}

/**
 * Stores bytes that come as a stream; no more than two pieces are held.
 * @param hash sha256 of all bytes, known beforehand. @throws Error when what came has another hash or length; the
 * transaction must then be given up.
 */
export async function putStream(tx: Tx, hash: string, size: number, source: ByteStream): Promise<void> {
  const made = await tx.insert(blobs).values({ hash, size }).onConflictDoNothing().returning({ hash: blobs.hash });
  if (made.length === 0) return;
  const digest = createHash("sha256");
  let piece = 0;
  let total = 0;
  let held: Uint8Array[] = [];
  let heldBytes = 0;
  const write = async (): Promise<void> => {
    const bytes = held.length === 1 ? held[0]! : Buffer.concat(held);
    await tx.insert(blobChunks).values({ hash, piece: piece++, bytes });
    held = [];
    heldBytes = 0;
  };
  for await (const given of source) {
    digest.update(given);
    total += given.length;
    for (let at = 0; at < given.length;) {
      const part = given.subarray(at, at + PIECE_BYTES - heldBytes);
      held.push(part);
      heldBytes += part.length;
      at += part.length;
      if (heldBytes === PIECE_BYTES) await write();
    }
  }
  if (heldBytes > 0 || piece === 0) await write();
  if (total !== size || digest.digest("hex") !== hash)
    throw new Error(`blob ${hash}: other bytes came than were told (${total} of ${size})`);
}

/** Length of a blob, bytes; null when there is none of this hash. */
export async function blobSize(db: Reader, hash: string): Promise<number | null> {
  const [row] = await db.select({ size: blobs.size }).from(blobs).where(eq(blobs.hash, hash));
  return row?.size ?? null;
}

/** The bytes of a blob piece by piece, in order. */
export async function* readPieces(db: Reader, hash: string): AsyncGenerator<Uint8Array> {
  for (let piece = 0; ; piece++) {
    const [row] = await db
      .select({ bytes: blobChunks.bytes })
      .from(blobChunks)
      .where(and(eq(blobChunks.hash, hash), eq(blobChunks.piece, piece)));
    if (!row) return;
    yield row.bytes;
    if (row.bytes.length < PIECE_BYTES) return;
  }
}

/** A blob as one array, at an address of its own; null when there is none. */
export async function getBlob(db: Reader, hash: string): Promise<Uint8Array<ArrayBuffer> | null> {
  const size = await blobSize(db, hash);
  if (size === null) return null;
  const out = new Uint8Array(size);
  let at = 0;
  for await (const piece of readPieces(db, hash)) {
    out.set(piece, at);
    at += piece.length;
  }
  if (at !== size)
    throw new UserError(
      "Some of the geometry is missing from the database.",
      "",
      "Restore the database from a copy, or take the delivery in again.",
    );
  return out;
}

/** Blobs by hash; those that are not there are left out. */
export async function getBlobs(db: Reader, hashes: readonly string[]): Promise<Map<string, Uint8Array>> {
  const found = new Map<string, Uint8Array>();
  for (const hash of new Set(hashes)) {
    const bytes = await getBlob(db, hash);
    if (bytes) found.set(hash, bytes);
  }
  return found;
}

/** Hashes out of those given that are not stored. */
export async function missingBlobs(db: Reader, hashes: readonly string[]): Promise<string[]> {
  if (hashes.length === 0) return [];
  const rows = await db
    .select({ hash: blobs.hash })
    .from(blobs)
    .where(inArray(blobs.hash, [...hashes]));
  const there = new Set(rows.map((r) => r.hash));
  return hashes.filter((h) => !there.has(h));
}
