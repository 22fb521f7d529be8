import { data } from "react-router";
import { statusOf, toldOf } from "./refusals";

/** Runs what a page needs from the server; what it cannot have is thrown as an answer in words. */
export async function forPage<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const told = toldOf(error);
    throw told ? data({ what: told.what, todo: told.todo }, { status: statusOf(error) }) : error;
  }
}
