import { useEffect } from "react";
import type { CharacterPage } from "~server/services/characterPage";
import { useSessionStore, type Session, type SessionStore } from "../session";
import { dropDraft, holdDraft, keepDraft, keepHeavy } from "./drafts";
import { fetchWhenClear } from "../clearWay";
import { TOOLS, type Tool } from "./keptTools";
import type * as Writing from "./workDrafts";

/**
 * How long after a change it is written, ms; strokes that follow each other are written together, but never later than
 * the second.
 */
const SOON_MS = 250;
const LATEST_MS = 1000;

/** Drafts that were kept in the ledger or thrown away; what is written late of them is not written. */
const ended = new Set<string>();

/**
 * How work is written down: fetched when nothing more pressing is, and here before there is work, so that the last
 * change is written at once when the page goes.
 */
let writing: typeof Writing | null = null;
const fetchWriting = async (): Promise<typeof Writing> => (writing ??= await import("./workDrafts"));

/** Ends work for good: it is in the ledger, or thrown away. */
export function endWork(store: SessionStore, tool: Tool): void {
  const work = store.getState()[tool];
  if (!work) return;
  ended.add(work.draft);
  store.setState({ [tool]: null });
  void dropDraft(work.draft).catch(() => {});
}

/** Ends a draft for good, whether a tool of this window works on it or none. */
export async function endDraft(store: SessionStore, id: string): Promise<void> {
  const tool = TOOLS.find((t) => store.getState()[t]?.draft === id);
  if (tool) endWork(store, tool);
  else await dropDraft(id);
}

/** Writes what a tool holds. @param s the session as it was when the tool held it. */
async function write(s: Session, tool: Tool, character: string, heavy: Set<string>): Promise<void> {
  const id = s[tool]?.draft;
  const { describeWork } = writing ?? (await fetchWriting());
  if (id === undefined || ended.has(id)) return;
  const described = describeWork(s, tool);
  if (!described) return dropDraft(id);
  if (tool === "scan" && !heavy.has(id)) {
    heavy.add(id);
    await keepHeavy(id, { mesh: s.scan!.mesh, tree: s.scan!.tree });
  }
  await keepDraft({ id, character, changedAt: Date.now(), ...described });
}

/**
 * Keeps what is in work in the browser while it is done, so that a reload, another station or the end of the page loses
 * nothing.
 */
export function useKeepDrafts(page: CharacterPage): void {
  const store = useSessionStore();
  const character = page.character.id;
  useEffect(() => fetchWhenClear(fetchWriting), []);
  useEffect(() => {
    const heavy = new Set<string>();
    const waiting = new Map<Tool, { timer: number; since: number; session: Session }>();
    const holds = new Map<Tool, { draft: string; release: () => void }>();
    const flush = (tool: Tool): void => {
      const w = waiting.get(tool);
      if (!w) return;
      window.clearTimeout(w.timer);
      waiting.delete(tool);
      // no room in the browser: the work is still on the stage
      void write(w.session, tool, character, heavy).catch(() => {});
    };
    const look = (now: Session, before: Session): void => {
      for (const tool of TOOLS) {
        const work = now[tool];
        if (work === before[tool]) continue;
        if (before[tool] && before[tool].draft !== work?.draft) flush(tool);
        const hold = holds.get(tool);
        if (hold?.draft !== work?.draft) {
          hold?.release();
          holds.delete(tool);
          if (work) {
            let release = (): void => {};
            holdDraft(work.draft, new Promise<void>((r) => (release = r)));
            holds.set(tool, { draft: work.draft, release });
          }
        }
        if (!work) continue;
        const w = waiting.get(tool);
        const since = w?.since ?? Date.now();
        if (w) window.clearTimeout(w.timer);
        waiting.set(tool, {
          since,
          session: now,
          timer: window.setTimeout(() => flush(tool), Math.max(0, Math.min(SOON_MS, since + LATEST_MS - Date.now()))),
        });
      }
    };
    const all = (): void => TOOLS.forEach(flush);
    const stop = store.subscribe(look);
    window.addEventListener("pagehide", all);
    document.addEventListener("visibilitychange", all);
    return () => {
      stop();
      all();
      for (const hold of holds.values()) hold.release();
      window.removeEventListener("pagehide", all);
      document.removeEventListener("visibilitychange", all);
    };
  }, [store, character]);
}
