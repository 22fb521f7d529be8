import { createHash } from "node:crypto";
import { eq, inArray } from "drizzle-orm";
import type { Db } from "../db/connect";
import { blobs } from "../db/schema";

export const sha256 = (bytes: Uint8Array | string): string => createHash("sha256").update(bytes).digest("hex");

type Writer = Pick<Db, "insert">;

/** Stores bytes under their hash; the same bytes are stored once. */
export async function putBlob(db: Writer, bytes: Uint8Array): Promise<string> {
  const hash = sha256(bytes);
  await db.insert(blobs).values({ hash, bytes, size: bytes.length }).onConflictDoNothing();
  return hash;
}

export async function getBlob(db: Db, hash: string): Promise<Uint8Array | null> {
  const [row] = await db.select({ bytes: blobs.bytes }).from(blobs).where(eq(blobs.hash, hash));
  return row?.bytes ?? null;
}

export async function getBlobs(db: Db, hashes: readonly string[]): Promise<Map<string, Uint8Array>> {
  if (hashes.length === 0) return new Map();
  const rows = await db.select({ hash: blobs.hash, bytes: blobs.bytes }).from(blobs).where(inArray(blobs.hash, [...hashes]));
  return new Map(rows.map((r) => [r.hash, r.bytes]));
}
