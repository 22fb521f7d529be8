import type { ChannelMap } from "~core/tracking/channelMap";
import type { KeptMap } from "~server/services/channelMaps";
import { ask, putJson } from "../refusal";

export type { KeptMap };

/** Where the tracker is: the address in use, the one that somebody named, and the stand-in's. */
export interface Bridge {
  readonly address: string | null;
  readonly named: string | null;
  readonly standIn: string | null;
}
export const readBridge = (): Promise<Bridge> => ask("/api/tracking/bridge", {}) as Promise<Bridge>;
/** Names another tracker; pages must be loaded anew before they may connect to it. */
export const nameBridge = (address: string | null): Promise<Bridge> =>
  putJson("/api/tracking/bridge", { address }) as Promise<Bridge>;

/** Keeps a take as it came. @returns its sha256. */
export const keepTake = async (table: string): Promise<string> =>
  ((await ask("/api/tracking/takes", { method: "POST", body: new Blob([table]) })) as { raw: string }).raw;

export const listMaps = async (): Promise<readonly KeptMap[]> =>
  ((await ask("/api/tracking/maps", {})) as { maps: readonly KeptMap[] }).maps;
const mapUrl = (name: string): string => `/api/tracking/maps/${encodeURIComponent(name)}`;
export const keepMap = (name: string, map: ChannelMap): Promise<unknown> => putJson(mapUrl(name), map);
export const dropMap = (name: string): Promise<unknown> => ask(mapUrl(name), { method: "DELETE" });
