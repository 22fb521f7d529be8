import { SEVERITIES, type Severity } from "../checks/finding";
import { timesOver, type FrameExcess, type FrameReading } from "./watchFrame";

/** A stretch of frames in which one measure is beyond its limit at one place. Seconds of the ruler. */
export interface WatchMoment extends Omit<FrameExcess, "place"> {
  readonly from: number;
  readonly to: number;
  readonly worstAt: number;
  readonly message: string;
  readonly place: string;
  /** How many times its limit the worst value is. */
  readonly times: number;
}

/** Frames this far apart belong to one moment, seconds. */
const GAP = 0.5;

const CALLED: Readonly<Record<string, string>> = {
  "pose.volume": "volume lost",
  "pose.penetration": "skin in skin",
  "pose.stretch": "stretched",
  "pose.flip": "turned inside out",
  "pose.range": "beyond its range",
  "clip.under-ground": "under the floor",
  "clip.foot-slide": "slides",
  "face.lip-cross": "lips cross",
  "face.eye-through-lid": "eye through lid",
  "face.lid-gap": "lids open",
  "face.teeth-through": "teeth through skin",
  "face.tongue-through": "tongue through skin",
  "pair.excess": "stretched or turned",
  "pair.opposed": "pull against each other",
  "speech.closure": "lips do not shut",
  "speech.contact": "lip not at the teeth",
  "speech.teeth": "teeth apart",
  "speech.opening": "vowel swallowed",
  "speech.timing": "lips early or late",
  "speech.speed": "too fast",
  "speech.overlap": "visemes beyond 1",
};
/** A moment in three words: what, where. */
export const shortWords = ({ check, place }: Pick<FrameExcess, "check" | "place">): string =>
  `${place}: ${CALLED[check] ?? check}`;

const SAYS: Readonly<Record<string, (v: FrameExcess) => string>> = {
  "pose.volume": (v) => `${v.place} loses ${Math.round(-v.value)} % of its volume`,
  "pose.penetration": (v) => `skin goes ${v.value.toFixed(1)} mm into skin at ${v.place}`,
  "pose.stretch": (v) => `edges stretch to ${v.value.toFixed(2)} times their length at ${v.place}`,
  "pose.flip": (v) => `${v.value} face${v.value === 1 ? " turns" : "s turn"} inside out at ${v.place}`,
  "pose.range": (v) => `${v.place} stands at ${Math.round(v.value)} degrees, beyond ${Math.round(v.limit)}`,
  "clip.under-ground": (v) => `the ${v.place} goes ${v.value.toFixed(0)} mm under the floor`,
  "clip.foot-slide": (v) => `the ${v.place} slides at ${v.value.toFixed(2)} m/s while it stands`,
  "pair.opposed": (v) => `${Math.round(v.value)} % of what the first of ${v.shape} moves is taken back by the other`,
  "speech.closure": (v) => `the lips are shut for ${v.value.toFixed(0)} ms at ${v.place}`,
  "speech.contact": (v) => `the lower lip stays ${v.value.toFixed(1)} mm from the teeth at ${v.place}`,
  "speech.teeth": (v) => `the rows of teeth stay ${v.value.toFixed(1)} mm apart at ${v.place}`,
  "speech.opening": (v) => `the mouth opens to ${Math.round(100 * v.value)} % of its viseme at ${v.place}`,
  "speech.timing": (v) =>
    v.value < 0
      ? `the lips shut ${Math.round(-v.value)} ms before the sound begins at ${v.place}`
      : `the lips shut ${Math.round(v.value)} ms after the sound began at ${v.place}`,
  "speech.speed": (v) => `the mouth moves at ${v.value.toFixed(2)} m/s at ${v.place}`,
  "speech.overlap": (v) => `the visemes add up to ${v.value.toFixed(2)} in ${v.place}`,
  "face.lip-cross": (v) => `the lips cross by ${v.value.toFixed(1)} mm (${v.shape})`,
  "face.eye-through-lid": (v) => `an eyeball comes ${v.value.toFixed(1)} mm through its lid (${v.shape})`,
  "face.lid-gap": (v) => `the eye stays open by ${v.value.toFixed(1)} mm (${v.shape})`,
  "face.teeth-through": (v) => `teeth stand ${v.value.toFixed(1)} mm out of the skin (${v.shape})`,
  "face.tongue-through": (v) => `the tongue stands ${v.value.toFixed(1)} mm out of the skin (${v.shape})`,
  "pair.excess": (v) =>
    v.unit === "faces"
      ? `${v.value} faces of the face turn inside out (${v.shape})`
      : `the face stretches to ${v.value.toFixed(2)} times its length (${v.shape})`,
};
const says = (v: FrameExcess): string => SAYS[v.check]?.(v) ?? `${v.check} at ${v.place}`;
const sentence = (v: FrameExcess): string => {
  const text = says(v);
  return `${text[0]!.toUpperCase()}${text.slice(1)}.`;
};

/** Readings of frames as moments, worst first: errors, then warnings, then notes. */
export function momentsOf(readings: readonly FrameReading[], fps: number): WatchMoment[] {
  const rows = [...readings].sort((a, b) => a.frame - b.frame);
  const open = new Map<string, { from: number; to: number; worstAt: number; worst: FrameExcess; severity: Severity }>();
  const out: WatchMoment[] = [];
  const close = (key: string): void => {
    const m = open.get(key)!;
    open.delete(key);
    const { worst, severity } = m;
    out.push({
      ...worst,
      severity,
      from: m.from / fps,
      to: m.to / fps,
      worstAt: m.worstAt / fps,
      message: sentence(worst),
      times: timesOver({ ...worst, severity: "warn" }),
    });
  };
  for (const { frame, over } of rows)
    for (const excess of over) {
      const key = `${excess.check}|${excess.unit}|${excess.place}`;
      const now = open.get(key);
      if (now && frame - now.to > Math.max(1, GAP * fps)) close(key);
      const going = open.get(key);
      if (!going) {
        open.set(key, { from: frame, to: frame, worstAt: frame, worst: excess, severity: excess.severity });
        continue;
      }
      going.to = frame;
      if (SEVERITIES.indexOf(excess.severity) < SEVERITIES.indexOf(going.severity)) going.severity = excess.severity;
      if (Math.abs(excess.value) > Math.abs(going.worst.value)) [going.worst, going.worstAt] = [excess, frame];
    }
  [...open.keys()].forEach(close);
  return out.sort(
    (a, b) =>
      SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity) ||
      b.times - a.times ||
      a.from - b.from ||
      a.place.localeCompare(b.place),
  );
}

/** The worst of each frame, for the line over the lanes; frames that were not read yet are NaN. */
export function worstLine(readings: readonly FrameReading[], frames: number): Float32Array {
  const out = new Float32Array(frames).fill(NaN);
  for (const { frame, worst } of readings)
    if (frame < frames) out[frame] = Math.max(Number.isNaN(out[frame]!) ? 0 : out[frame]!, worst);
  return out;
}

/** Frames in an order in which the whole is seen coarsely first: every so manyth, then those between. */
export function coarseFirst(frames: number): number[] {
  const out: number[] = [];
  const seen = new Uint8Array(frames);
  for (let step = 32; step >= 1; step >>= 1)
    for (let f = 0; f < frames; f += step)
      if (!seen[f]) {
        seen[f] = 1;
        out.push(f);
      }
  return out;
}
