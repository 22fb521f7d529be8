import { useEffect, useRef } from "react";
import { useLocation, useNavigationType } from "react-router";
import { useSessionStore, type Session } from "../session/session";
import { viewFromQuery, viewToQuery } from "../session/urlState";
import { lookAt } from "../session/slices/view";

const queryOf = (s: Session): string => viewToQuery(s, new URLSearchParams(window.location.search)).toString();

/** Keeps the address and the view the same: back and forward set the view, changes of the view rewrite the address. */
export function useUrlSync(): void {
  const store = useSessionStore();
  const { key } = useLocation();
  const arrived = useNavigationType();
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    if (arrived !== "POP") return; // links and opened rows go out from the view as it is; only back and forward bring one
    const query = new URLSearchParams(window.location.search);
    if (
      viewToQuery(viewFromQuery(query), new URLSearchParams()).toString() !==
      viewToQuery(store.getState(), new URLSearchParams()).toString()
    )
      lookAt(store, viewFromQuery(query));
  }, [key, arrived, store]);
  useEffect(() => {
    let timer = 0;
    const write = (): void => {
      const query = queryOf(store.getState());
      if (query !== window.location.search.slice(1))
        window.history.replaceState(window.history.state, "", `${window.location.pathname}${query ? `?${query}` : ""}`);
    };
    const stop = store.subscribe(() => {
      window.clearTimeout(timer);
      timer = window.setTimeout(write, 120);
    });
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, [store]);
}
