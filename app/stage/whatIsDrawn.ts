import type { Session } from "../session/session";

/** What of the session the stage draws: what it reads is listed here, the compiler sees to it. */
const DRAWN = [
  "loaded",
  "pose",
  "weights",
  "method",
  "drivers",
  "driversOff",
  "sources",
  "live",
  "beside",
  "besideSources",
  "compare",
  "beforeHeld",
  "reading",
  "wires",
  "joints",
  "dressed",
  "joint",
  "measured",
  "moved",
  "place",
  "seat",
  "sculpt",
  "brush",
  "paint",
  "mask",
  "scan",
] as const satisfies readonly (keyof Session)[];
export type Drawn = Pick<Session, (typeof DRAWN)[number]>;

/** Whether a change of the session is seen on the stage; one that is not draws no frame. */
export const isSeen = (now: Drawn, was: Drawn): boolean => DRAWN.some((key) => now[key] !== was[key]);
