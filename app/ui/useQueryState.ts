import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** One parameter of the address, as state. Other parameters, also those written past the router, are kept. */
export function useQueryState<T extends string>(key: string, fallback: T): [T, (value: T) => void] {
  const [query, setQuery] = useSearchParams();
  const set = useCallback(
    (value: T) => {
      setQuery(
        () => {
          const next = new URLSearchParams(window.location.search);
          if (value === fallback) next.delete(key);
          else next.set(key, value);
          return next;
        },
        { replace: true, preventScrollReset: true },
      );
    },
    [fallback, key, setQuery],
  );
  return [(query.get(key) as T | null) ?? fallback, set];
}
