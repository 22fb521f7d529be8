import type { Db } from "./db/connect";

/** What page loaders get from the server; they reach the database only through services that take `db`. */
export interface PageContext {
  readonly db: Db;
  readonly nonce: string;
  readonly uploadLimitMb: number;
}
