import { useCallback, useEffect, useRef } from "react";
import type { JointMotion } from "~core/skeleton/jointMotions";
import { postJson } from "./ledgerClient";
import { useSession } from "./session";
import { useCharacterPage } from "./useDesk";
import type { Sweeps } from "./useSweeps";

type Trials = ReturnType<typeof useCharacterPage>["trials"];
interface Wanted {
  readonly before: string;
  readonly trials: Trials;
  readonly motions: readonly JointMotion[];
}

/**
 * Sweeps motions anew in the state that a step leads to, as soon as it is loaded; sweeps of joints that the step did
 * not touch stay true and are kept for it. @returns what has to be called before the step: it gives what says, once
 * the step is taken, which motions it touched.
 */
export function useSweepAfter({ run: sweep }: Pick<Sweeps, "run">): () => (motions: readonly JointMotion[]) => void {
  const page = useCharacterPage();
  const loaded = useSession((s) => s.loaded);
  const wanted = useRef<Wanted | null>(null);
  const { state } = page.ledger;
  const { id } = page.character;
  useEffect(() => {
    const now = wanted.current;
    if (!now || now.before === state || loaded?.state !== state) return;
    wanted.current = null;
    const joints = new Set(now.motions.map((m) => m.joint));
    const kept = now.trials.filter((t) => !loaded.motions.some((m) => m.id === t.motion && joints.has(m.joint)));
    void Promise.all(kept.map((t) => postJson(`/api/characters/${encodeURIComponent(id)}/trials`, { state, ...t })))
      .then(() => sweep(loaded.motions.filter((m) => joints.has(m.joint))))
      .catch(() => {}); // the sweeps can be made by hand
  }, [state, id, loaded, sweep]);
  const { trials } = page;
  return useCallback(
    () => (motions) => {
      if (motions.length) wanted.current = { before: state, trials, motions };
    },
    [state, trials],
  );
}
