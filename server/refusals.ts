import { isUserError, UserError } from "../core/model/userError";
import { machineTrouble } from "./db/trouble";

/** A refusal that says more than "it does not fit": the status of the answer. */
export class Refused extends UserError {
  constructor(
    readonly status: number,
    what: string,
    where = "",
    todo = "",
  ) {
    super(what, where, todo);
  }
}

/** Another window changed the ledger first. */
export const conflict = (): Refused =>
  new Refused(
    409,
    "Another window changed this character meanwhile.",
    "",
    "Look at its change, then put yours on top of it.",
  );
export const notThere = (what = "There is no such character."): Refused =>
  new Refused(404, what, "", "It may have been deleted. The cast lists every character.");

/** Somebody took back what was asked for. RFC 9110 has no status for it; 499 is common practice. */
export const takenBack = (): Refused => new Refused(499, "Cancelled.", "", "Nothing was changed.");

/**
 * What people are told of an error: its own words, or those for a trouble of the machine; null for a fault of the
 * program.
 */
export const toldOf = (error: unknown): UserError | null => (isUserError(error) ? error : machineTrouble(error));

/** Status of the answer to an error. */
export function statusOf(error: unknown): number {
  if (error instanceof Refused) return error.status;
  if (isUserError(error)) return 422;
  return machineTrouble(error) ? 503 : 500;
}

/** An error as pages get it. */
export const asWords = ({
  what,
  where,
  todo,
}: UserError): { readonly what: string; readonly where: string; readonly todo: string } => ({ what, where, todo });
