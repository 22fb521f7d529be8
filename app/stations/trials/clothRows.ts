import { PROFILES } from "~core/checks/checkFacts";
import type { ClothRow } from "~core/measure/clothThrough";
import type { Loaded, Session } from "../../session/session";

/** How far skin may stand out of a garment, mm. */
export const CLOTH_LIMIT = PROFILES.realtime.limits["pose.penetration"] ?? 5;

/** Kept for the state and method they were read in, so that leaving the leaf loses nothing. */
const known = new Map<string, readonly ClothRow[]>();
const keyOf = (loaded: Loaded | null, method: Session["method"]): string => `${loaded?.state ?? ""} ${method}`;

export const clothRows = (loaded: Loaded | null, method: Session["method"]): readonly ClothRow[] | undefined =>
  known.get(keyOf(loaded, method));
export const keepClothRows = (loaded: Loaded, method: Session["method"], rows: readonly ClothRow[]): void =>
  void known.set(keyOf(loaded, method), rows);
