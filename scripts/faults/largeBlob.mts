import { connect, migrateTables } from "../../server/db/connect";
import { putStream, readPieces } from "../../server/blobs/blobStore";
import { createHash } from "node:crypto";

/** Stores and reads a blob in a process of its own. Prints what it took. @param argv database, megabytes */
const [url, megabytes] = [process.argv[2]!, Number(process.argv[3])];
await migrateTables(url);
const { db, close } = connect(url, 2);
const piece = (i: number): Uint8Array => new Uint8Array(1048576).fill(i & 255);
const digest = createHash("sha256");
for (let i = 0; i < megabytes; i++) digest.update(piece(i));
const hash = digest.digest("hex");
const start = process.memoryUsage().rss;
let most = start;
const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
const at = performance.now();
await db.transaction((tx) =>
  putStream(
    tx,
    hash,
    megabytes * 1048576,
    (function* () {
      for (let i = 0; i < megabytes; i++) yield piece(i);
    })(),
  ),
);
const written = performance.now();
const back = createHash("sha256");
for await (const p of readPieces(db, hash)) back.update(p);
const read = performance.now();
clearInterval(watch);
process.stdout.write(
  `${JSON.stringify({ same: back.digest("hex") === hash, moreMb: Math.round((most - start) / 1048576), writeS: (written - at) / 1000, readS: (read - written) / 1000 })}\n`,
);
await close();
