import type { Addition, ClipMaps } from "~core/intake/bringAdditions";
import { readingsStore } from "./keptReadings";

/** Which bone a joint of a clip's skeleton is, where somebody said so; null for none. */
type JointMap = ClipMaps[string];

/** Skeletons whose map is remembered. */
const MOST = 60;
const kept = readingsStore<JointMap>("yxomorph-clip-maps", MOST);

/** A clip's skeleton, by the names of its joints. */
const kindOf = (joints: readonly string[]): string => JSON.stringify([...joints].sort());

/** Remembers what was said of the joints of a skeleton, for the next clip of that kind. */
export const keepClipMap = (joints: readonly string[], map: JointMap): Promise<void> =>
  kept.keep(kindOf(joints), map).catch(() => {}); // it is asked again then

/** What was said before of the joints of files that were read just now, by file; only of those not said of anew. */
export async function knownClipMaps(additions: readonly Addition[], asked: ClipMaps): Promise<ClipMaps> {
  const out: Record<string, JointMap> = {};
  for (const a of additions) {
    if (a.what !== "clip" || !a.report?.unsure.length || asked[a.file] || out[a.file]) continue;
    const map = await kept.get(kindOf(a.report.jointNames)).catch(() => undefined);
    if (map) out[a.file] = map;
  }
  return out;
}
