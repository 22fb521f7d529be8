import { fork, type ChildProcess } from "node:child_process";
import { fileURLToPath } from "node:url";
import { residentBytes } from "../../server/processes/taskPool";
import { mutant } from "./mutate";
import type { Outcome } from "./readAny";
import { makeSeeds, type Seed } from "./seeds";

/**
 * A file that did harm: it brought down the process that read it, held it too long, filled the memory, or met a fault
 * of the program.
 */
export interface Harm {
  readonly number: number;
  readonly file: string;
  readonly what: "crash" | "hang" | "memory" | "fault";
  readonly told: string;
}
export interface MutantReport {
  readonly count: number;
  readonly read: number;
  readonly refused: number;
  readonly harms: readonly Harm[];
  readonly slowestMs: number;
}

export const HANG_MS = 5000;
const MEMORY_BYTES = 1.5e9;
const ENTRY = fileURLToPath(new URL("./readAnyChild.mjs", import.meta.url));

/** A process that reads, made anew when one was brought down. */
class Reader {
  private child: ChildProcess | null = null;

  private async start(): Promise<ChildProcess> {
    const child = fork(ENTRY, [], {
      serialization: "advanced",
      execArgv: ["--max-old-space-size=1200"],
      stdio: ["ignore", "ignore", "ignore", "ipc"],
    });
    await new Promise<void>((resolve, reject) => {
      child.once("message", () => resolve());
      child.once("exit", () => reject(new Error("the reading process did not start")));
    });
    child.removeAllListeners("exit");
    return (this.child = child);
  }

  async read(seed: Seed): Promise<{ outcome: Outcome | { kind: "crash" | "hang" | "memory" }; ms: number }> {
    const child = this.child ?? (await this.start());
    const since = Date.now();
    return new Promise((resolve) => {
      let why: "crash" | "hang" | "memory" = "crash";
      const end = (reason: typeof why): void => {
        why = reason;
        child.kill("SIGKILL");
      };
      const watch = setInterval(() => {
        if (Date.now() - since > HANG_MS) end("hang");
        else if (residentBytes(child.pid!) > MEMORY_BYTES) end("memory");
      }, 100);
      const done = (outcome: Outcome | { kind: typeof why }): void => {
        clearInterval(watch);
        child.removeAllListeners("message");
        child.removeAllListeners("exit");
        resolve({ outcome, ms: Date.now() - since });
      };
      child.once("message", (outcome: Outcome) => done(outcome));
      child.once("exit", () => {
        this.child = null;
        done({ kind: why });
      });
      child.send(seed);
    });
  }

  close(): void {
    this.child?.removeAllListeners("exit");
    this.child?.kill("SIGKILL");
  }
}

/** Reads files with two processes side by side. @param tell is called after each. */
export async function readAll(files: readonly Seed[], tell: (done: number) => void = () => {}): Promise<MutantReport> {
  let [next, read, refused, slowestMs, done] = [0, 0, 0, 0, 0];
  const harms: Harm[] = [];
  await Promise.all(
    [0, 1].map(async () => {
      const reader = new Reader();
      while (next < files.length) {
        const number = next++;
        const seed = files[number]!;
        const { outcome, ms } = await reader.read(seed);
        slowestMs = Math.max(slowestMs, ms);
        if (outcome.kind === "read") read++;
        else if (outcome.kind === "refused") refused++;
        else
          harms.push({
            number,
            file: `${seed.way}: ${seed.name}`,
            what: outcome.kind,
            told: "stack" in outcome ? outcome.stack : "",
          });
        tell(++done);
      }
      reader.close();
    }),
  );
  return { count: files.length, read, refused, harms, slowestMs };
}

/** Mutants `from` to `from + count` of all seeds, by turns. */
export async function makeMutants(from: number, count: number): Promise<Seed[]> {
  const seeds = await makeSeeds();
  return Array.from({ length: count }, (_, i) => {
    const seed = seeds[(from + i) % seeds.length]!;
    return { ...seed, bytes: mutant(from + i + 1, seed.name, seed.bytes) };
  });
}
