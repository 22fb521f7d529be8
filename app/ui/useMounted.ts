import { useSyncExternalStore } from "react";

const never = (): (() => void) => () => {};

/** False while the server's page is taken over, true from then on. */
export const useMounted = (): boolean =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
