import { closeSync, mkdirSync, openSync, readFileSync, rmSync, statfsSync, writeSync } from "node:fs";
import path from "node:path";
import { BadSetting } from "./settings";

/** Room that a data folder needs to begin with, bytes. */
const LEAST_FREE = 300 * 1024 * 1024;

/**
 * When a process started, in ticks since the machine did: with its number it names a process for good. Null when there
 * is none.
 */
export function startOf(pid: number): string | null {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, "utf8");
    return stat.slice(stat.lastIndexOf(")") + 2).split(" ")[19] ?? null;
  } catch {
    return null;
  }
}

/**
 * Makes the data folder this server's own until it is let go or the process ends.
 * @throws BadSetting when another server holds it, or it cannot be written, or its disk has too little room.
 */
export function takeFolder(folder: string): { readonly release: () => void } {
  const lock = path.join(folder, "server.lock");
  try {
    mkdirSync(folder, { recursive: true });
    const free = statfsSync(folder);
    if (free.bavail * free.bsize < LEAST_FREE)
      throw new BadSetting(
        `The disk of the data folder ${folder} has ${Math.floor((free.bavail * free.bsize) / 1048576)} ` +
          `MB free; ${LEAST_FREE / 1048576} MB are needed. Make room, or set YXOMORPH_DATA to another folder.`,
      );
  } catch (error) {
    if (error instanceof BadSetting) throw error;
    throw new BadSetting(
      `The data folder ${folder} cannot be used (${(error as NodeJS.ErrnoException).code ?? "error"}). ` +
        "Set YXOMORPH_DATA to one that can be written.",
    );
  }
  for (let attempt = 0; ; attempt++) {
    try {
      const file = openSync(lock, "wx", 0o644);
      writeSync(file, `${process.pid} ${startOf(process.pid)}\n`);
      closeSync(file);
      return { release: () => rmSync(lock, { force: true }) };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST")
        throw new BadSetting(
          `The data folder ${folder} cannot be written (${(error as NodeJS.ErrnoException).code ?? "error"}).`,
        );
      const [pid, start] = readFileSync(lock, "utf8").trim().split(" ");
      const alive = pid !== undefined && start !== undefined && startOf(Number(pid)) === start;
      if (alive || attempt > 3)
        throw new BadSetting(
          `Another server (process ${pid}) works on the data folder ${folder}. ` +
            "Use that one, stop it, or set YXOMORPH_DATA to another folder.",
        );
      rmSync(lock, { force: true });
    }
  }
}
