import { readingsStore } from "./keptReadings";
import type { Watched } from "../slices/trial";

/** Trials whose measures are kept in this browser. */
const MOST = 24;
/** What was measured in this page: kept where the browser keeps nothing, too. */
const here = new Map<string, Watched>();
const MOST_HERE = 8;
const kept = readingsStore<Watched>("yxomorph-watched", MOST);

/** What was measured of a trial on a state, in this page or before. */
export async function keptWatched(key: string): Promise<Watched | undefined> {
  const known = here.get(key);
  if (known) return known;
  const found = await kept.get(key).catch(() => undefined);
  // another page's may hold what another version of the application measured: only what has the shape is taken
  return found?.key === key && found.whole && Array.isArray(found.readings) ? found : undefined;
}

/** Keeps the measures of every frame, in place of the ones that were measured longest ago. */
export async function keepWatched(watched: Watched): Promise<void> {
  here.delete(watched.key);
  here.set(watched.key, watched);
  if (here.size > MOST_HERE) here.delete(here.keys().next().value!);
  await kept.keep(watched.key, watched).catch(() => {}); // a full disk: it is measured again after a reload
}
