import type { EarlyWorkers } from "~server/context";

/**
 * The script that stands first in a page: by the address alone it starts the workers that will be needed, named by the
 * character they are to begin with. `session/earlyWorkers.ts` hands them over.
 */
export const earlyScript = ({ pictures, replay }: EarlyWorkers): string => `
const at = /^\\/c\\/([^/]+)\\/(\\w+)$/.exec(location.pathname);
if (at) {
  const start = (file) => new Worker(file, { type: "module", name: decodeURIComponent(at[1]) });
  const leaf = new URLSearchParams(location.search).get("leaf");
  window.earlyWorkers = {
    ...(at[2] === "shapes" && (leaf ?? "proof") === "proof" ? { pictures: start(${JSON.stringify(pictures)}) } : {}),
    replay: start(${JSON.stringify(replay)}),
  };
}`;
