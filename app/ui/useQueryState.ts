import { useCallback } from "react";
import { useSearchParams } from "react-router";

/**
 * One parameter of the address, as state. Other parameters, also those written past the router, are kept.
 * @param options what it may be; anything else in an address (mistyped, or of another version) reads as the fallback.
 */
export function useQueryState<T extends string>(
  key: string,
  fallback: T,
  options?: readonly T[],
): [T, (value: T) => void] {
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
  const value = (query.get(key) as T | null) ?? fallback;
  return [options && !options.includes(value) ? fallback : value, set];
}
