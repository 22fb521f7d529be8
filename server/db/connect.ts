import path from "node:path";
import { fileURLToPath } from "node:url";
import { drizzle, type NodePgDatabase } from "drizzle-orm/node-postgres";
import { migrate } from "drizzle-orm/node-postgres/migrator";
import pg from "pg";
import * as schema from "./schema";

export type Db = NodePgDatabase<typeof schema>;
export interface Connection {
  readonly db: Db;
  /** Ends the pool; connections that do not end within three seconds are left to the process' end. */
  readonly close: () => Promise<void>;
}

const CLOSE_MS = 3000;
/** Any number that is the same in every server of the program. */
const MIGRATION_LOCK = 730_114;

/** A pool of connections whose losses are told to the queries that meet them, never to the process. */
export function connect(url: string, most = 8): Connection {
  const pool = new pg.Pool({ connectionString: url, max: most, connectionTimeoutMillis: 3000, query_timeout: 20_000 });
  pool.on("error", () => {}); // a lost idle connection is noticed by the next query
  pool.on("connect", (client) => void client.on("error", () => {})); // one that is lost while it is in use, by the query that runs
  return {
    db: drizzle(pool, { schema }),
    close: () => Promise.race([pool.end().catch(() => {}), new Promise<void>((r) => setTimeout(r, CLOSE_MS).unref())]),
  };
}

/** Brings the tables to the present form, one server at a time. */
export async function migrateTables(url: string): Promise<void> {
  const client = new pg.Client({ connectionString: url, connectionTimeoutMillis: 10_000 });
  client.on("error", () => {});
  await client.connect();
  try {
    await client.query("select pg_advisory_lock($1)", [MIGRATION_LOCK]);
    await migrate(drizzle(client, { schema }), {
      migrationsFolder: path.join(path.dirname(fileURLToPath(import.meta.url)), "migrations"),
    });
  } finally {
    await client.end().catch(() => {});
  }
}
