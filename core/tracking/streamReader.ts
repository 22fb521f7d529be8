import { parseJsonText } from "../model/parseJsonText";
import { schemaFault } from "../model/schemaWords";
import { isUserError } from "../model/userError";
import { MOST_CHANNELS, senderMessageSchema, type Frame, type Hello } from "./frame";
import { NO_COUNTS, type StreamCounts } from "./streamCounts";

/** What a message of the stream was. */
export type Received =
  | { readonly kind: "hello"; readonly hello: Hello }
  /** A late frame is older than one that came before it: it belongs into the recording, not on the stage. */
  | { readonly kind: "frame"; readonly frame: Frame; readonly late: boolean }
  | { readonly kind: "end" }
  | { readonly kind: "refused"; readonly why: string };

/** Longest message that is read, signs: five hundred channels with room to spare. */
const MOST_SIGNS = 64 * 1024;
/** Frames whose numbers are remembered, so that none counts twice. */
const REMEMBERED = 2000;
/** Frames over which the rate is read. */
const RATE_OVER = 60;
/** After so long without a frame the rate is read anew, ms. */
const PAUSE_MS = 500;

/** Reads the messages of one sender: what is not of the protocol is counted and left out, nothing is thrown. */
export class StreamReader {
  hello: Hello | null = null;
  counts: StreamCounts = NO_COUNTS;
  private last = -1;
  private seen = new Set<number>();
  private arrivals: number[] = [];

  /** @param at when it arrived, ms. */
  push(text: string, at: number): Received {
    const read = this.read(text);
    if (read.kind === "refused") this.count({ refused: 1 });
    if (read.kind === "hello") this.begin(read.hello);
    if (read.kind !== "frame") return read;
    const { frame } = read;
    if (this.seen.has(frame.index)) {
      this.count({ refused: 1 });
      return { kind: "refused", why: `Frame ${frame.index} came twice.` };
    }
    this.seen.add(frame.index);
    if (this.seen.size > REMEMBERED) for (const i of this.seen) if (i < this.last - REMEMBERED / 2) this.seen.delete(i);
    const pause = at - (this.arrivals[this.arrivals.length - 1] ?? at) > PAUSE_MS;
    this.arrivals = pause ? [at] : [...this.arrivals.slice(1 - RATE_OVER), at];
    const late = frame.index < this.last;
    const missed = late || this.last < 0 ? 0 : frame.index - this.last - 1;
    this.last = Math.max(this.last, frame.index);
    this.count({ frames: 1, lost: frame.values ? 0 : 1, late: late ? 1 : 0, missing: late ? -1 : missed });
    return { kind: "frame", frame, late };
  }

  /** Frames a second that arrived lately; null while too few did. */
  get rate(): number | null {
    const a = this.arrivals;
    const span = a.length > 2 ? a[a.length - 1]! - a[0]! : 0;
    return span > 0 ? (1000 * (a.length - 1)) / span : null;
  }

  private begin(hello: Hello): void {
    this.hello = hello;
    this.last = -1;
    this.seen = new Set();
  }

  private count(by: Partial<StreamCounts>): void {
    const add = (key: keyof StreamCounts): number => Math.max(0, this.counts[key] + (by[key] ?? 0));
    this.counts = {
      frames: add("frames"),
      lost: add("lost"),
      missing: add("missing"),
      late: add("late"),
      refused: add("refused"),
    };
  }

  private read(text: string): Received {
    if (text.length > MOST_SIGNS) return { kind: "refused", why: `A message of ${text.length} signs is too long.` };
    let json: unknown;
    try {
      json = parseJsonText(text, "", "A message is no JSON.");
    } catch (error) {
      return { kind: "refused", why: isUserError(error) ? error.what : "A message is no JSON." };
    }
    const parsed = senderMessageSchema.safeParse(json);
    if (!parsed.success) {
      const announced = (json as { channels?: unknown } | null)?.channels;
      if (Array.isArray(announced) && announced.length > MOST_CHANNELS)
        return {
          kind: "refused",
          why: `The sender has ${announced.length} channels; up to ${MOST_CHANNELS} are read.`,
        };
      const { what, where } = schemaFault(parsed.error);
      return { kind: "refused", why: `A message is not of the protocol: ${where ? `${where}, ` : ""}${what}.` };
    }
    const message = parsed.data;
    if (message.type === "hello") return { kind: "hello", hello: message };
    if (message.type === "end") return { kind: "end" };
    if (!this.hello) return { kind: "refused", why: "A frame came before the sender said what it measures." };
    if (message.values && message.values.length !== this.hello.channels.length) {
      const why = `A frame has ${message.values.length} values for ${this.hello.channels.length} channels.`;
      return { kind: "refused", why };
    }
    return { kind: "frame", frame: message, late: false };
  }
}
