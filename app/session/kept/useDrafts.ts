import { useEffect, useState } from "react";
import { freeDrafts, listDrafts, type Draft } from "./drafts";
import { onKept } from "./keptStore";

/** Drafts that no other window works on, the latest first; kept up to date. @param character of this one alone. */
export function useDrafts(character?: string): readonly Draft[] {
  const [drafts, setDrafts] = useState<readonly Draft[]>([]);
  useEffect(() => {
    let wanted = true;
    const look = (): void =>
      void listDrafts(character)
        .then(freeDrafts)
        .then((list) => wanted && setDrafts(list))
        .catch(() => {});
    look();
    const stop = onKept("drafts", look);
    // a lock that another window lets go tells nobody
    window.addEventListener("focus", look);
    return () => {
      wanted = false;
      stop();
      window.removeEventListener("focus", look);
    };
  }, [character]);
  return drafts;
}
