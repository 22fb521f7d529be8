import type { Db } from "./db/connect";

/** Built files that the first script of a page starts as workers, or fetches. */
export interface EarlyWorkers {
  readonly pictures: string;
  readonly replay: string;
  readonly stage: string;
}

/** What page loaders get from the server; they reach the database only through services that take `db`. */
export interface PageContext {
  readonly db: Db;
  readonly nonce: string;
  readonly uploadLimitMb: number;
  /** Built files of the workers that a page starts first; null where the build names none. */
  readonly earlyWorkers: EarlyWorkers | null;
}
