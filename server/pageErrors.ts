import { data } from "react-router";
import { isUserError } from "../core/model/userError";
import { machineTrouble } from "./db/trouble";
import { statusOf } from "./refusals";

/** Runs what a page needs from the server; what it cannot have is thrown as an answer in words. */
export async function forPage<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const trouble = machineTrouble(error);
    if (trouble) throw data({ what: trouble.what, todo: trouble.todo }, { status: 503 });
    if (isUserError(error)) throw data({ what: error.what, todo: error.todo }, { status: statusOf(error) });
    throw error;
  }
}
