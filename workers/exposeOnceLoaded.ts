import { expose } from "comlink";
import { fetchAhead, type ExpectedCharacter, type LedgerState } from "./fetchState";

/** What of a thread's global scope is used here. */
export interface Scope extends EventTarget {
  /** The character that the worker was started for, as JSON; empty where it was for none. */
  readonly name?: string;
  postMessage(message: unknown, transfer?: Transferable[]): void;
}

/** What begins with a character before the page asks for it. */
interface Expecting {
  expect(state: Promise<LedgerState>): void;
}

/**
 * Offers what a worker does, and loses nothing that is asked before its code has arrived. A module that waits while it
 * loads, as one that compiles WebAssembly does, drops the messages that reach its thread meanwhile; so the worker's
 * own file loads at once, keeps what comes, and hands it on in its order. Where the code cannot be fetched, every
 * question is answered with that error. A worker that was named begins with that character at once: it is fetched
 * while the code is.
 */
export async function exposeOnceLoaded(load: () => Promise<object>, scope: Scope = self as Scope): Promise<void> {
  const ahead = scope.name ? fetchAhead(JSON.parse(scope.name) as ExpectedCharacter) : null;
  ahead?.catch(() => {}); // told by who waits for it
  const early: MessageEvent[] = [];
  const keep = (event: Event): void => void early.push(event as MessageEvent);
  scope.addEventListener("message", keep);
  const offered = await load().catch(() => askedInVain());
  scope.removeEventListener("message", keep);
  expose(offered, scope as unknown as Worker);
  if (ahead && "expect" in offered) (offered as Expecting).expect(ahead);
  for (const event of early)
    scope.dispatchEvent(new MessageEvent("message", { data: event.data, origin: event.origin }));
}

const askedInVain = (): object =>
  new Proxy(
    {},
    {
      // it comes out of a promise, which would take a function of this name for another promise
      get: (_, name) =>
        name !== "then" &&
        (() => {
          throw new Error("A part of the application could not be fetched. Load the page again.");
        }),
    },
  );
