import { isUserError, UserError } from "../core/model/userError";

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
export const conflict = (): Refused => new Refused(409, "Another window changed this character meanwhile.", "", "Look at its change, then put yours on top of it.");
export const notThere = (what = "There is no such character."): Refused => new Refused(404, what, "", "It may have been deleted. The cast lists every character.");

export const statusOf = (error: unknown): number => (error instanceof Refused ? error.status : isUserError(error) ? 422 : 500);
