import { useCallback, useEffect, useRef, useState } from "react";
import { isUserError } from "~core/model/userError";
import { JobCancelled } from "~jobs/ticker";
import { Refusal } from "../refusal";

/** How far work is; a title of its own where it goes through several things. */
export type Tell = (share: number, title?: string) => void;

export interface Work {
  /** What is being done and how far it is, 0..1; null while nothing is. */
  readonly running: { readonly title: string; readonly share: number } | null;
  /** Why the last work did not end well, in words; empty when it did. */
  readonly refusal: string;
  /** Does work that takes long; resolves to null when it was cancelled or failed, which then stands in `refusal`. */
  readonly during: <T>(title: string, work: (tell: Tell, signal: AbortSignal) => Promise<T>) => Promise<T | null>;
  readonly cancel: () => void;
  /** Says something in place of a refusal; empty to take one away. */
  readonly refuse: (words: string) => void;
}

const wordsOf = (error: unknown, otherwise: string): string => {
  if (isUserError(error)) return [error.what, error.todo].filter(Boolean).join(" ");
  return error instanceof Refusal ? error.message : otherwise;
};

/** Long work of a component: its progress, cancel, and what went wrong. It is cancelled when the component goes. */
export function useWork(failed: string): Work {
  const [running, setRunning] = useState<Work["running"]>(null);
  const [refusal, refuse] = useState("");
  const control = useRef<AbortController | null>(null);
  const cancel = useCallback(() => control.current?.abort(), []);
  useEffect(() => cancel, [cancel]);
  const during = useCallback(
    async <T>(title: string, work: (tell: Tell, signal: AbortSignal) => Promise<T>): Promise<T | null> => {
      control.current?.abort();
      const own = new AbortController();
      control.current = own;
      const here = (): boolean => control.current === own;
      setRunning({ title, share: 0 });
      refuse("");
      try {
        const made = await work((share, now = title) => here() && setRunning({ title: now, share }), own.signal);
        return own.signal.aborted ? null : made;
      } catch (error) {
        if (!(error instanceof JobCancelled) && !own.signal.aborted) refuse(wordsOf(error, failed));
        return null;
      } finally {
        if (here()) setRunning(null);
      }
    },
    [failed],
  );
  return { running, refusal, during, cancel, refuse };
}
