import {
  closeSync,
  fsyncSync,
  mkdirSync,
  openSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
  writeSync,
} from "node:fs";
import path from "node:path";
import { UserError } from "../core/model/userError";

const REASONS: Readonly<Record<string, readonly [string, string]>> = {
  ENOSPC: [
    "The disk is full: the file was not written, and what stood there before is as it was.",
    "Make room, or choose another disk.",
  ],
  EDQUOT: [
    "The quota of the disk is used up: the file was not written, and what stood there before is as it was.",
    "Make room, or choose another disk.",
  ],
  ENOENT: ["There is no such folder.", "Make the folder first."],
  ENOTDIR: ["A file stands where a folder should.", "Choose another place."],
  EACCES: ["The file may not be written there.", "Choose another place."],
  EPERM: ["The file may not be written there.", "Choose another place."],
  EROFS: ["The disk can only be read.", "Choose another place."],
  EISDIR: ["A folder of this name is there.", "Choose another name."],
  ENAMETOOLONG: ["The name is too long.", "Choose a shorter one."],
};

/** Why something could not be written, in words. */
export function writeTrouble(error: unknown, out: string): UserError {
  const [what, todo] = REASONS[(error as NodeJS.ErrnoException).code ?? ""] ?? [
    "The file cannot be written there.",
    "Check the folder.",
  ];
  return new UserError(what, out, todo);
}

/**
 * Writes a file beside its place and moves it there when it is whole: whatever happens, a file of this name is the old
 * one or the new one. @throws UserError
 */
export function writeOut(out: string, data: string | Uint8Array): void {
  const beside = path.join(path.dirname(out), `.${path.basename(out).slice(0, 200)}.part-${process.pid}`);
  try {
    if (statSync(out, { throwIfNoEntry: false })?.isDirectory()) throw Object.assign(new Error(), { code: "EISDIR" });
    const file = openSync(beside, "w");
    try {
      const bytes = typeof data === "string" ? Buffer.from(data) : data;
      for (let at = 0; at < bytes.length;) at += writeSync(file, bytes, at);
      fsyncSync(file);
    } finally {
      closeSync(file);
    }
    renameSync(beside, out);
  } catch (error) {
    rmSync(beside, { force: true });
    throw writeTrouble(error, out);
  }
}

/** Stands in a folder while a set of files is written into it. */
export const UNFINISHED = "UNFINISHED";

/**
 * Makes a folder and fills it; until it is whole a mark stands in it, by which a set that was broken off is known.
 * @throws UserError
 */
export function writeSet(folder: string, write: () => void): void {
  const mark = path.join(folder, UNFINISHED);
  try {
    mkdirSync(folder, { recursive: true });
    writeFileSync(mark, "These files are being written, or their writing was broken off. Write them again.\n");
  } catch (error) {
    throw writeTrouble(
      (error as NodeJS.ErrnoException).code === "EEXIST" ? Object.assign(new Error(), { code: "ENOTDIR" }) : error,
      folder,
    );
  }
  write();
  rmSync(mark, { force: true });
}
