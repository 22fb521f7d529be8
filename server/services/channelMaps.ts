import { desc, eq } from "drizzle-orm";
import type { ChannelMap } from "../../core/tracking/channelMap";
import type { Db } from "../db/connect";
import { channelMaps } from "../db/schema";

export interface KeptMap {
  readonly name: string;
  readonly map: ChannelMap;
}
/** Maps of trackers' channels, the latest first. */
export async function listChannelMaps(db: Db): Promise<KeptMap[]> {
  const rows = await db.select().from(channelMaps).orderBy(desc(channelMaps.changedAt));
  return rows.map(({ name, map }) => ({ name, map }));
}

export const keepChannelMap = async (db: Db, name: string, map: ChannelMap): Promise<void> =>
  void (await db
    .insert(channelMaps)
    .values({ name, map })
    .onConflictDoUpdate({ target: channelMaps.name, set: { map, changedAt: new Date() } }));

export const dropChannelMap = async (db: Db, name: string): Promise<void> =>
  void (await db.delete(channelMaps).where(eq(channelMaps.name, name)));
