import { fileURLToPath } from "node:url";
import { Worker } from "node:worker_threads";
import { UserError } from "../../core/model/userError";
import type { AlignedLine } from "../../voice/alignRecording";
import type { OwnWords, SaidLine } from "../../voice/sayLine";

export type VoiceQuestion =
  | {
      readonly kind: "say";
      readonly text: string;
      readonly voice: string;
      readonly pace: number;
      readonly own: OwnWords;
    }
  | {
      readonly kind: "align";
      readonly wav: Uint8Array;
      readonly file: string;
      readonly text: string;
      readonly own: OwnWords;
    }
  | { readonly kind: "listen"; readonly wav: Uint8Array; readonly file: string }
  | { readonly kind: "ways"; readonly word: string };
export interface VoiceAnswer {
  readonly id: number;
  readonly result?: unknown;
  readonly refused?: { readonly what: string; readonly where: string; readonly todo: string };
  readonly failed?: string;
}

const ENTRY = new URL("./voiceThread.mjs", import.meta.url);
/** A line that takes longer than this is given up, and the thread with it, ms. */
const LONGEST_MS = 120_000;
/** Memory of the thread, MB. */
const MEMORY_MB = 1024;

interface Waiting {
  readonly resolve: (value: never) => void;
  readonly reject: (error: unknown) => void;
  readonly timer: NodeJS.Timeout;
}

/** The synthesiser on a thread of its own; started when it is first asked, and again after it ended. */
export class Voices {
  private worker: Worker | null = null;
  private next = 1;
  private readonly waiting = new Map<number, Waiting>();

  say(text: string, voice: string, pace: number, own: OwnWords): Promise<Omit<SaidLine, "sound">> {
    return this.ask({ kind: "say", text, voice, pace, own });
  }
  align(wav: Uint8Array, file: string, text: string, own: OwnWords): Promise<AlignedLine> {
    return this.ask({ kind: "align", wav, file, text, own });
  }
  /** How long a recording is, seconds. @throws UserError for one that cannot be heard. */
  listen(wav: Uint8Array, file: string): Promise<number> {
    return this.ask({ kind: "listen", wav, file });
  }
  /** Ways in which the dictionary says a word. */
  ways(word: string): Promise<string[]> {
    return this.ask({ kind: "ways", word });
  }
  /** Starts the thread and has it say a word, so that the first line is not waited for. */
  warm(): void {
    this.say("ready", "alto", 1, {}).catch(() => {}); // told when a line is asked for
  }

  close(): void {
    void this.worker?.terminate();
    this.worker = null;
  }

  private ask<T>(asked: VoiceQuestion): Promise<T> {
    const worker = (this.worker ??= this.start());
    const id = this.next++;
    return new Promise<T>((resolve, reject) => {
      const timer = setTimeout(() => {
        this.end(worker, new UserError("The line took too long and was given up.", "", "Cut it into shorter lines."));
      }, LONGEST_MS);
      this.waiting.set(id, { resolve, reject, timer });
      worker.postMessage({ id, asked });
    });
  }

  private start(): Worker {
    const worker = new Worker(fileURLToPath(ENTRY), { resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
    worker.unref();
    worker.on("message", ({ id, result, refused, failed }: VoiceAnswer) => {
      const asked = this.waiting.get(id);
      if (!asked) return;
      this.waiting.delete(id);
      clearTimeout(asked.timer);
      if (refused) asked.reject(new UserError(refused.what, refused.where, refused.todo));
      else if (failed !== undefined) asked.reject(new Error(failed));
      else asked.resolve(result as never);
    });
    worker.on("error", (error) => this.end(worker, error));
    worker.on("exit", () => this.end(worker, new Error("the voice's thread ended")));
    return worker;
  }

  private end(worker: Worker, error: unknown): void {
    if (this.worker !== worker) return;
    this.worker = null;
    void worker.terminate();
    for (const { reject, timer } of this.waiting.values()) {
      clearTimeout(timer);
      reject(error);
    }
    this.waiting.clear();
  }
}
