import { existsSync, readFileSync } from "node:fs";
import path from "node:path";
import { z } from "zod";
import type { EarlyWorkers } from "./context";

const schema = z.object({ pictures: z.string(), replay: z.string(), stage: z.string() });

/** What the build noted of its workers (`vite.config.ts`). @returns null where it noted nothing. */
export function readEarlyWorkers(clientDir: string): EarlyWorkers | null {
  const file = path.join(clientDir, "earlyWorkers.json");
  return existsSync(file) ? schema.parse(JSON.parse(readFileSync(file, "utf8"))) : null;
}
