import { useCallback } from "react";
import { useNavigate } from "react-router";
import { useSessionStore } from "./session";
import { viewToQuery } from "./urlState";
import { useCharacterPage } from "./useDesk";

/**
 * Goes to a station of this character with the view kept, and a row opened. `more` are parameters of that station.
 */
export function useGoToStation(): (station: string, open?: string, more?: Readonly<Record<string, string>>) => void {
  const store = useSessionStore();
  const navigate = useNavigate();
  const { id } = useCharacterPage().character;
  return useCallback(
    (station, open, more = {}) => {
      const query = viewToQuery(store.getState(), new URLSearchParams({ ...(open ? { open } : {}), ...more }));
      void navigate({ pathname: `/c/${id}/${station}`, search: query.toString() });
    },
    [store, navigate, id],
  );
}
