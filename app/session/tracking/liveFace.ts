import { mapOn, neutralsOf, proposeMap, type ChannelMap } from "~core/tracking/channelMap";
import type { Frame, Hello, ReceiverMessage } from "~core/tracking/frame";
import { SteadyFace } from "~core/tracking/steadyFace";
import { StreamReader } from "~core/tracking/streamReader";
import { framesOf, takeOfFrames, type Take } from "~core/tracking/take";
import { faceMoment, facePlayer } from "~core/trials/takeMoment";
import { PLAIN_SETTINGS, readTakeOn } from "~core/trials/takePiece";
import type { SessionStore } from "../session";
import { pieceOf } from "../slices/trial";
import { beginFaceSettings, NO_TRACKER, setFaceReadings, setRecording, setTracker, showLive } from "../slices/tracking";

/** A connected tracker that sends nothing for so long is waited for, ms. */
const SILENT_MS = 1000;
/** It is asked again after so long, ms. */
const RETRY_MS = 1000;
/** Numbers are told so often, channels are read so often, ms. */
const TELL_MS = 250;
const READ_MS = 1000;
/** Frames that are kept to be read, seconds; fewer where there are many channels. */
const RECENT = 4;
const MOST_NUMBERS = 24_000;
/** More messages a second than this are no tracker. */
const MOST_MESSAGES = 2000;
/** Longest recording, seconds. */
const LONGEST = 900;

/** Maps that were kept, to be used where they know all channels. */
export type KnownMaps = () => readonly { readonly name: string; readonly map: ChannelMap }[];

/**
 * A face that a tracker sends over a WebSocket: read, steadied, laid on the character of the desk at every picture,
 * recorded when asked. What goes wrong is told in the session, never thrown.
 */
export class LiveFace {
  /** Values as they came last, one a channel; null before any did. */
  raw: ArrayLike<number> | null = null;
  private socket: WebSocket | null = null;
  private address = "";
  private maps: KnownMaps = () => [];
  private reader = new StreamReader();
  private face: SteadyFace | null = null;
  private recent: Frame[] = [];
  private recorded: Frame[] | null = null;
  private pending: number | null = null;
  private arrived = 0;
  private measured = 0;
  private lastFrame = 0;
  /** Whether what is recorded is whole: another take began after it. */
  private sealed = false;
  /** Whether the take was asked for from its beginning for the recording that has just begun. */
  private fresh = false;
  /** The take that was asked for and has not begun; null for none. */
  private asked: string | null = null;
  private read = 0;
  private messages = { second: 0, count: 0 };
  private retry: number | null = null;
  private pulse: number | null = null;
  private drawn: number | null = null;

  constructor(private readonly store: SessionStore) {}

  connect(address: string, maps: KnownMaps = () => []): void {
    this.disconnect();
    this.address = address;
    this.maps = maps;
    this.reader = new StreamReader();
    this.lastFrame = 0;
    this.drawn = null;
    this.asked = null;
    setFaceReadings(this.store, null);
    setTracker(this.store, { ...NO_TRACKER, status: "connecting" });
    this.pulse = window.setInterval(this.beat, TELL_MS);
    this.open();
  }

  /** Ends it; what is being recorded is let go by whoever began it. */
  disconnect(): void {
    if (this.retry !== null) window.clearTimeout(this.retry);
    if (this.pulse !== null) window.clearInterval(this.pulse);
    if (this.pending !== null) cancelAnimationFrame(this.pending);
    this.retry = this.pulse = this.pending = null;
    const old = this.socket;
    this.socket = null;
    old?.close();
    this.recorded = null;
    window.removeEventListener("beforeunload", askFirst);
    this.raw = null;
    this.recent = [];
    showLive(this.store, null);
    setRecording(this.store, null);
    setTracker(this.store, NO_TRACKER);
  }

  /** Asks the sender for something; it may not answer to it. */
  send(message: ReceiverMessage): void {
    if (message.type === "play") this.asked = message.take ?? null;
    if (this.socket?.readyState === WebSocket.OPEN) this.socket.send(JSON.stringify(message));
  }

  /** Begins to record what comes; a sender that plays takes begins its take anew. @param start seconds of the ruler. */
  record(start: number): void {
    this.recorded = [];
    this.sealed = false;
    const { take, takes } = this.store.getState().tracker;
    this.fresh = takes.length > 0;
    if (this.fresh) this.send({ type: "play", take });
    window.addEventListener("beforeunload", askFirst);
    setRecording(this.store, { start, seconds: 0 });
  }
  /** Ends the recording. @returns null where nothing came. */
  stop(): Take | null {
    const frames = this.recorded;
    this.recorded = null;
    this.fresh = false;
    window.removeEventListener("beforeunload", askFirst);
    setRecording(this.store, null);
    if (this.store.getState().tracker.status === "ended") this.end();
    return frames && this.reader.hello ? takeOfFrames(this.reader.hello, frames) : null;
  }

  /** The last seconds as they came, as a take; null where nothing came. */
  lately(seconds = RECENT): Take | null {
    const { hello } = this.reader;
    if (!hello) return null;
    const last = this.recent.reduce((m, f) => Math.max(m, f.time), 0);
    return takeOfFrames(
      hello,
      this.recent.filter((f) => f.time >= last - seconds),
    );
  }

  private open(): void {
    let socket: WebSocket;
    try {
      socket = new WebSocket(this.address);
    } catch {
      setTracker(this.store, { status: "off", said: `${this.address} cannot be connected to from this page.` });
      return;
    }
    this.socket = socket;
    const here = (): boolean => this.socket === socket;
    socket.onmessage = (e) => here() && this.take(e.data);
    socket.onclose = (e) => here() && this.lost(e.reason);
    socket.onerror = () => {}; // it is closed right after
  }

  private lost(reason: string): void {
    this.socket = null;
    const before = this.store.getState().tracker;
    const why = reason ? `The tracker closed the connection: ${reason}.` : "The tracker does not answer";
    setTracker(this.store, {
      status: "retrying",
      said: reason
        ? why
        : before.status === "connecting" || before.status === "retrying"
          ? `${why} at ${this.address}.`
          : "The tracker went away.",
    });
    this.retry = window.setTimeout(() => this.open(), RETRY_MS);
  }

  private take(data: unknown): void {
    const now = performance.now();
    const second = Math.floor(now / 1000);
    this.messages = { second, count: this.messages.second === second ? this.messages.count + 1 : 1 };
    if (this.messages.count > MOST_MESSAGES) {
      this.disconnect();
      setTracker(this.store, { said: `It sent more than ${MOST_MESSAGES} messages a second and was disconnected.` });
      return;
    }
    const got = this.reader.push(typeof data === "string" ? data : "", now);
    if (got.kind === "refused") return void setTracker(this.store, { said: got.why });
    if (got.kind === "hello") return this.begin(got.hello);
    if (got.kind === "end") return this.end();
    const { frame, late } = got;
    this.lastFrame = now;
    this.recent.push(frame);
    const most = Math.min(
      RECENT * this.reader.hello!.rate,
      MOST_NUMBERS / Math.max(1, this.reader.hello!.channels.length),
    );
    if (this.recent.length > 2 * most) this.recent = this.recent.slice(-Math.ceil(most));
    if (this.recorded && !this.sealed && this.recorded.length < LONGEST * 240) this.recorded.push(frame);
    if (late || !this.face) return;
    this.face.push({ time: frame.time, values: frame.values, head: frame.head ?? null, gaze: frame.gaze ?? null });
    if (frame.values) this.raw = frame.values;
    this.arrived = now;
    this.pending ??= requestAnimationFrame(this.draw);
  }

  private begin(hello: Hello): void {
    const { loaded, faceSettings } = this.store.getState();
    if (!loaded) return;
    const same = faceSettings?.map.channels.map((r) => r.channel).join("\n") === hello.channels.join("\n");
    let said = "";
    if (!faceSettings || !same) {
      const known = this.maps().find((m) => {
        const channels = new Set(m.map.channels.map((r) => r.channel));
        return hello.channels.every((c) => channels.has(c));
      });
      const { character } = loaded;
      const map = known ? mapOn(character, known.map, hello.channels) : proposeMap(hello.channels, character);
      if (known) said = `The kept map "${known.name}" is used.`;
      const keeps = faceSettings && { steady: faceSettings.steady, tolerance: faceSettings.tolerance };
      beginFaceSettings(this.store, { ...PLAIN_SETTINGS, ...keeps, map });
    }
    if (hello.take === this.asked) this.asked = null;
    if (this.fresh) {
      this.fresh = false;
      this.recorded = [];
    } else if (this.recorded?.length) {
      this.sealed = true;
      said = "The recording holds what came before the take began anew.";
    }
    this.recent = [];
    const { map, steady } = this.store.getState().faceSettings!;
    this.face = new SteadyFace(hello.channels.length, steady, neutralsOf(map, hello.channels));
    this.raw = null;
    setTracker(this.store, {
      status: "live",
      source: hello.source,
      take: hello.take,
      takes: hello.takes ?? [],
      channels: hello.channels,
      said,
    });
  }
  /** A take of the stand-in is over: it is asked for again. */
  private end(): void {
    setTracker(this.store, { status: "ended" });
    // another may have been asked for while the end was on its way
    if (this.recorded === null) this.send({ type: "play", take: this.asked ?? this.store.getState().tracker.take });
  }

  /** Lays the newest frame on the character, once a picture. */
  private readonly draw = (): void => {
    this.pending = null;
    const { loaded, faceSettings, tracker } = this.store.getState();
    const { face } = this;
    if (!face || !loaded || !faceSettings) return;
    face.steady = faceSettings.steady;
    face.neutral = this.neutralOf(faceSettings.map);
    // a take that is chosen on the ruler is looked at itself
    if (this.recorded === null && this.takeIsChosen()) return showLive(this.store, null);
    const player = facePlayer(loaded.character, faceSettings.map, tracker.channels);
    showLive(this.store, faceMoment(player, face));
    if (this.arrived === this.measured) return;
    this.measured = this.arrived;
    const ms = performance.now() - this.arrived;
    this.drawn = this.drawn === null ? ms : 0.9 * this.drawn + 0.1 * ms;
  };
  private takeIsChosen(): boolean {
    const { trial, piece } = this.store.getState();
    return piece !== null && trial !== null && pieceOf(trial, piece)?.piece.kind === "take";
  }
  private neutrals: { readonly map: ChannelMap; readonly values: Float64Array } | null = null;
  private neutralOf(map: ChannelMap): Float64Array {
    if (this.neutrals?.map !== map)
      this.neutrals = { map, values: neutralsOf(map, this.store.getState().tracker.channels) };
    return this.neutrals.values;
  }

  /** Tells how it stands, and leads a face that no longer comes to its neutral. */
  private readonly beat = (): void => {
    const now = performance.now();
    const { tracker, recording, loaded, faceSettings } = this.store.getState();
    const silent = this.lastFrame > 0 && now - this.lastFrame > SILENT_MS;
    if (silent && this.face && tracker.status !== "off") {
      const last = this.recent[this.recent.length - 1]?.time ?? 0;
      this.face.lose(last + (now - this.lastFrame) / 1000);
      this.pending ??= requestAnimationFrame(this.draw);
    }
    if (tracker.status === "live" || tracker.status === "waiting" || tracker.status === "ended") {
      const status = silent ? "waiting" : tracker.status === "waiting" ? "live" : tracker.status;
      setTracker(this.store, {
        status,
        rate: silent ? null : this.reader.rate,
        counts: this.reader.counts,
        lost: this.face !== null && this.face.lostSince !== null,
        drawnMs: this.drawn,
      });
    } else if (tracker.counts !== this.reader.counts) setTracker(this.store, { counts: this.reader.counts });
    if (recording && this.recorded?.length) {
      const [first, last] = [this.recorded[0]!, this.recorded[this.recorded.length - 1]!];
      const seconds = Math.max(0, last.time - first.time);
      setRecording(this.store, { ...recording, seconds });
    }
    if (now - this.read < READ_MS || silent || !loaded || !faceSettings || this.takeIsChosen()) return;
    this.read = now;
    const take = this.lately();
    if (take && framesOf(take) > 20) setFaceReadings(this.store, readTakeOn(take, faceSettings, loaded.character));
  };
}

const faces = new WeakMap<SessionStore, LiveFace>();
/** The live face of a desk. */
export function liveFaceOf(store: SessionStore): LiveFace {
  const known = faces.get(store) ?? new LiveFace(store);
  faces.set(store, known);
  return known;
}

/** A page that is left while it records would lose what it has: the browser asks. */
const askFirst = (e: Event): void => e.preventDefault();
