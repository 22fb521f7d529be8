import type { EarlyWorkers } from "~server/context";
import type { LedgerState } from "~workers/fetchState";

/** A state of more letters is fetched by the workers: a page is not held up by it. */
const MOST_LETTERS = 50_000;

/**
 * The script that stands first in a page: it starts the workers that will be needed at the address, named by the
 * character that they are to begin with (`workers/exposeOnceLoaded.ts`). `session/earlyWorkers.ts` hands them over.
 * Where no small pictures come first, the stage's program is fetched with the page's own.
 *
 * @param state of the character, as the page shows it; null where there is none.
 */
export function earlyScript({ pictures, replay, stage }: EarlyWorkers, state: LedgerState | null): string {
  const text = JSON.stringify(state);
  // within a page "<" might end the script
  const known = text.length <= MOST_LETTERS ? text.replaceAll("<", "\\u003c") : "null";
  return `
const at = /^\\/c\\/([^/]+)\\/(\\w+)$/.exec(location.pathname);
if (at) {
  const name = JSON.stringify({ id: decodeURIComponent(at[1]), state: ${known} });
  const start = (file) => new Worker(file, { type: "module", name });
  const leaf = new URLSearchParams(location.search).get("leaf");
  const proof = at[2] === "shapes" && (leaf ?? "proof") === "proof";
  window.earlyWorkers = {
    ...(proof ? { pictures: start(${JSON.stringify(pictures)}) } : {}),
    replay: start(${JSON.stringify(replay)}),
  };
  if (!proof) {
    const link = document.createElement("link");
    Object.assign(link, { rel: "modulepreload", href: ${JSON.stringify(stage)}, fetchPriority: "low" });
    document.head.append(link);
  }
}`;
}
