import { useCallback, useEffect, useRef, useState } from "react";
import { draftOf, dropDraft, keepDraft, type DraftPlace } from "./drafts";

export interface RuleDraft<T> {
  readonly character: string;
  /** What the rules are for; one draft each. */
  readonly of: string;
  readonly title: string;
  readonly place: DraftPlace;
  /** Whether there is nothing in it that could be lost. */
  readonly isEmpty: (value: T) => boolean;
  readonly amount: (value: T) => string;
}

/**
 * Rules being made, as state that is kept in the browser until they are applied or set back. Null while nothing was
 * changed.
 */
export function useRuleDraft<T>({
  character,
  of,
  title,
  place,
  isEmpty,
  amount,
}: RuleDraft<T>): [T | null, (value: T | null) => void] {
  const [value, setValue] = useState<T | null>(null);
  const id = `rules ${character} ${of}`;
  const touched = useRef(false);
  useEffect(() => {
    void draftOf(id)
      .then((draft) => {
        if (!touched.current && draft?.content.kind === "rules") setValue(draft.content.value as T);
      })
      .catch(() => {});
  }, [id]);
  const latest = useRef({ title, place, isEmpty, amount });
  useEffect(() => {
    latest.current = { title, place, isEmpty, amount };
  });
  const change = useCallback(
    (next: T | null) => {
      touched.current = true;
      setValue(next);
      const now = latest.current;
      if (next === null || now.isEmpty(next)) void dropDraft(id).catch(() => {});
      else
        void keepDraft({
          id,
          character,
          title: now.title,
          amount: now.amount(next),
          place: now.place,
          changedAt: Date.now(),
          content: { kind: "rules", of, value: next },
        }).catch(() => {});
    },
    [id, character, of],
  );
  return [value, change];
}
