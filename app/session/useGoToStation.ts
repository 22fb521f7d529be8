import { useCallback } from "react";
import { useNavigate } from "react-router";
import { useSessionStore } from "./session";
import { viewToQuery } from "./urlState";
import { useCharacterPage } from "./useDesk";

/** Goes to a station of this character with the view kept, and a row opened. */
export function useGoToStation(): (station: string, open?: string) => void {
  const store = useSessionStore();
  const navigate = useNavigate();
  const { id } = useCharacterPage().character;
  return useCallback(
    (station, open) => {
      const query = viewToQuery(store.getState(), new URLSearchParams(open ? { open } : {}));
      void navigate({ pathname: `/c/${id}/${station}`, search: query.toString() });
    },
    [store, navigate, id],
  );
}
