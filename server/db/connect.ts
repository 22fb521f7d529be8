import path from "node:path";
import { fileURLToPath } from "node:url";
import { drizzle, type NodePgDatabase } from "drizzle-orm/node-postgres";
import { migrate } from "drizzle-orm/node-postgres/migrator";
import pg from "pg";
import { UserError } from "../../core/model/userError";
import * as schema from "./schema";

export type Db = NodePgDatabase<typeof schema>;

export async function connect(url: string): Promise<{ db: Db; close: () => Promise<void> }> {
  const pool = new pg.Pool({ connectionString: url, max: 8, connectionTimeoutMillis: 3000, query_timeout: 20_000 });
  pool.on("error", () => {}); // a lost idle connection is noticed by the next query
  const db = drizzle(pool, { schema });
  await migrate(db, { migrationsFolder: path.join(path.dirname(fileURLToPath(import.meta.url)), "migrations") });
  return { db, close: () => pool.end() };
}

const LOST = /^(57P0[123]|08\d\d\d|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/;

/** The error for people when the database has gone away, else null. */
export function databaseLost(error: unknown): UserError | null {
  for (let e = error as { code?: string; message?: string; cause?: unknown } | undefined; e; e = e.cause as typeof e) {
    if (LOST.test(e.code ?? "") || /Connection terminated|timeout exceeded when trying to connect|Query read timeout|ECONNREFUSED/.test(e.message ?? "")) return new UserError("The database does not answer.", "", "Nothing is lost: what you made stays in this window. Try again in a moment.");
  }
  return null;
}
