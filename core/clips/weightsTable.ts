import { sampleWeight } from "../evaluate/sampleTrack";
import type { WeightTrack } from "../model/character";

/** Frames a second of the table. */
const RATE = 60;

/** Weights of shapes over time as CSV: seconds, then a column a shape, sixty rows a second. */
export function weightsTable(tracks: readonly WeightTrack[], seconds: number): string {
  const cell = (text: string): string => `"${text.replaceAll('"', '""')}"`;
  const rows = Array.from({ length: Math.round(seconds * RATE) + 1 }, (_, f) => {
    const t = f / RATE;
    return [t.toFixed(4), ...tracks.map((track) => sampleWeight(track, t).toFixed(4))].join(",");
  });
  return `${[["seconds", ...tracks.map((t) => cell(t.shape))].join(","), ...rows].join("\n")}\n`;
}
