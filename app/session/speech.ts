import type { SpokenLine } from "~core/speech/phones";
import { ask, postJson, putJson } from "./refusal";

/** Voices of the synthesiser on the server, with how they are told apart. */
export const VOICE_NAMES = { alto: "alto", bass: "bass", tenor: "tenor", buzz: "buzz (8 kHz)" } as const;
export type Voice = keyof typeof VOICE_NAMES;

/** A line that the server spoke, or found in a recording. */
export interface MadeLine {
  readonly line: SpokenLine;
  readonly notes: readonly string[];
  /** sha256 of its sound. */
  readonly sound: string;
}
export interface WordWays {
  /** Ways in which the dictionary says it. */
  readonly ways: readonly string[];
  /** One's own. */
  readonly own: string | null;
}

export const sayText = (text: string, voice: string, pace: number): Promise<MadeLine> =>
  postJson("/api/speech/lines", { text, voice, pace }) as Promise<MadeLine>;

/** A recording with its text: its phones are found by laying it on the synthesiser. */
export const alignText = (file: File, text: string): Promise<MadeLine & { readonly distance: number }> =>
  ask(`/api/speech/recordings?${new URLSearchParams({ text, file: file.name.slice(0, 200) }).toString()}`, {
    method: "POST",
    body: file,
  }) as Promise<MadeLine & { distance: number }>;

/** A recording alone, for a line whose phones came with it. */
export const keepRecording = (file: File): Promise<{ readonly sound: string; readonly seconds: number }> =>
  ask(`/api/speech/sounds?${new URLSearchParams({ file: file.name.slice(0, 200) }).toString()}`, {
    method: "POST",
    body: file,
  }) as Promise<{ sound: string; seconds: number }>;

const wordUrl = (word: string): string => `/api/speech/words/${encodeURIComponent(word)}`;
export const waysOfWord = (word: string): Promise<WordWays> => ask(wordUrl(word), {}) as Promise<WordWays>;
export const keepOwnWord = (word: string, phones: string): Promise<unknown> => putJson(wordUrl(word), { phones });
export const dropOwnWord = (word: string): Promise<unknown> => ask(wordUrl(word), { method: "DELETE" });

let context: AudioContext | null = null;
/** The page's sound; null where the browser has none. It stands still until somebody plays something. */
export function soundContext(): AudioContext | null {
  try {
    return (context ??= new AudioContext());
  } catch {
    return null;
  }
}

const buffers = new Map<string, Promise<AudioBuffer | null>>();
/** Sounds that are held at most. */
const MOST = 40;
/** A sound by its hash, decoded once; null where it is gone or cannot be decoded. */
export function soundBuffer(hash: string): Promise<AudioBuffer | null> {
  const found = buffers.get(hash);
  if (found) return found;
  const made = (async (): Promise<AudioBuffer | null> => {
    try {
      const answer = await fetch(`/api/blobs/${hash}`);
      return answer.ok ? ((await soundContext()?.decodeAudioData(await answer.arrayBuffer())) ?? null) : null;
    } catch {
      return null;
    }
  })();
  buffers.set(hash, made);
  for (const old of buffers.keys()) {
    if (buffers.size <= MOST) break;
    buffers.delete(old);
  }
  return made;
}
