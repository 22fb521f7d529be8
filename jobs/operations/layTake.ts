import { z } from "zod";
import { channelMapSchema, mapOn } from "../../core/tracking/channelMap";
import type { FaceReadings } from "../../core/tracking/faceReadings";
import { readTake } from "../../core/tracking/readTake";
import type { RecordedFace } from "../../core/tracking/recordedFace";
import { steadySchema } from "../../core/tracking/steadyFace";
import { secondsOf, takeTable } from "../../core/tracking/take";
import { plainSettings, readTakeOn, takePiece, type TakeSettings } from "../../core/trials/takePiece";
import { file } from "../inputs";
import { job } from "../job";

/** A take of a file as it lies on the character. */
export interface LaidTake extends TakeSettings {
  readonly name: string;
  readonly seconds: number;
  readonly face: RecordedFace;
  /** What was found and set right while it was read. */
  readonly notes: readonly string[];
  readonly readings: FaceReadings;
  /** The take as it came, as the table it is kept as. */
  readonly table: string;
}

/** Reads a take, steadies it, maps its channels and gives it as few keys as its tolerance allows. */
export const layTake = job({
  input: z.object({
    file,
    settings: z
      .object({ map: channelMapSchema.nullable(), steady: steadySchema, tolerance: z.number().min(0).max(1) })
      .nullable(),
  }),
  async run({ character }, { file: { name, bytes }, settings }, tick): Promise<LaidTake> {
    await tick(0, 3);
    const { take, notes } = readTake(bytes, name);
    await tick(1, 3);
    const plain = plainSettings(take, character);
    const map = settings?.map ? mapOn(character, settings.map, take.channels) : plain.map;
    const own = { ...plain, ...settings, map };
    const { face } = takePiece(take, own, { start: 0, id: "take" });
    await tick(2, 3);
    const readings = readTakeOn(take, own, character);
    return { ...own, name: take.name, seconds: secondsOf(take), face, notes, readings, table: takeTable(take) };
  },
});
