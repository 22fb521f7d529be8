import { randomUUID } from "node:crypto";
import { mkdirSync, rmSync } from "node:fs";
import { rm } from "node:fs/promises";
import path from "node:path";

/**
 * A folder for files on their way: what was uploaded and is not read yet, what was written and is not sent yet. Emptied
 * at every start.
 */
export class Spool {
  constructor(private readonly root: string) {
    rmSync(root, { recursive: true, force: true });
    mkdirSync(root, { recursive: true, mode: 0o700 });
  }

  /** Does a piece of work with a folder of its own, that goes when it has ended. */
  async during<T>(work: (folder: string) => Promise<T>): Promise<T> {
    const folder = this.folder();
    try {
      return await work(folder.path);
    } finally {
      folder.clear();
    }
  }

  /** A folder for work that goes on after the caller has returned; whoever ends it clears it. */
  folder(): { readonly path: string; readonly clear: () => void } {
    const made = path.join(this.root, randomUUID());
    mkdirSync(made, { recursive: true, mode: 0o700 });
    return { path: made, clear: () => void rm(made, { recursive: true, force: true }).catch(() => {}) };
  }
}
