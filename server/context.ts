import type { Db } from "./db/connect";

export interface EarlyWorkers {
  readonly pictures: string;
  readonly replay: string;
}

/** What page loaders get from the server; they reach the database only through services that take `db`. */
export interface PageContext {
  readonly db: Db;
  readonly nonce: string;
  readonly uploadLimitMb: number;
  /** Built files of the workers that a page starts first; null where the build names none. */
  readonly earlyWorkers: EarlyWorkers | null;
}
