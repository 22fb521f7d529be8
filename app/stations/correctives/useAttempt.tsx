import { useState, type ReactNode } from "react";
import { isUserError } from "~core/model/userError";

/** Something that may be refused in words, which then stand where it was asked for. */
export interface Attempt {
  readonly attempt: (work: () => Promise<unknown> | void) => void;
  readonly say: (words: string) => void;
  /** What was refused or is to be told; null where nothing is. */
  readonly told: ReactNode;
}

export function useAttempt(): Attempt {
  const [words, say] = useState("");
  const attempt = (work: () => Promise<unknown> | void): void => {
    say("");
    Promise.resolve()
      .then(work)
      .catch((error: unknown) => say(isUserError(error) ? error.message : "That did not work."));
  };
  const told = words ? (
    <div className="refusal" role="alert">
      {words}
    </div>
  ) : null;
  return { attempt, say, told };
}
