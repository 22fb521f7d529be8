import { UserError } from "../../core/model/userError";

const LOST = /^(57P0[123]|08\d\d\d|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOTFOUND)$/;
const LOST_WORDS =
  /Connection terminated|Client has encountered a connection error|Client was closed|timeout exceeded when trying to connect|Query read timeout|ECONNREFUSED|Cannot use a pool after calling end/;
const FULL = /^(53100|ENOSPC|EDQUOT)$/;
const FULL_WORDS = /No space left on device|could not extend file|Disk quota exceeded/;
const BUSY = /^(53300|55P03|40P01)$/;

/** The chain of an error and its causes. */
function* causes(error: unknown): Generator<{ code?: string; message?: string }> {
  for (let e = error as { code?: string; message?: string; cause?: unknown } | undefined; e; e = e.cause as typeof e)
    yield e;
}
const is = (error: unknown, codes: RegExp, words?: RegExp): boolean => {
  for (const e of causes(error)) if (codes.test(e.code ?? "") || words?.test(e.message ?? "")) return true;
  return false;
};

/**
 * Troubles of the machine rather than of the request: what to tell people, or null when it is none of them. All are
 * worth trying again.
 */
export function machineTrouble(error: unknown): UserError | null {
  if (is(error, FULL, FULL_WORDS))
    return new UserError(
      "The disk of the server is full: nothing was saved.",
      "",
      "What you made stays in this window. Make room on the disk that holds the data folder, then try again.",
    );
  if (is(error, LOST, LOST_WORDS))
    return new UserError(
      "The database does not answer.",
      "",
      "Nothing is lost: what you made stays in this window. Try again in a moment.",
    );
  if (is(error, BUSY))
    return new UserError(
      "The database is busy.",
      "",
      "Nothing is lost: what you made stays in this window. Try again in a moment.",
    );
  return null;
}
