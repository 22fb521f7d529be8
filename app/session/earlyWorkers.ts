type Name = "pictures" | "replay";

declare global {
  interface Window {
    /** From the script that stands first in the page (`earlyScript.ts`). */
    earlyWorkers?: Partial<Record<Name, Worker>>;
  }
}

/** Hands over a worker that was started before the page's own code came; null where there is none. */
export function earlyWorker(name: Name): Worker | null {
  const worker = window.earlyWorkers?.[name] ?? null;
  delete window.earlyWorkers?.[name];
  return worker;
}
