import path from "node:path";
import { z } from "zod";
import { weightsTable } from "../../core/clips/weightsTable";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import type { Character } from "../../core/model/character";
import { parseJsonText } from "../../core/model/parseJsonText";
import { schemaFault } from "../../core/model/schemaWords";
import { uniqueName } from "../../core/model/uniqueName";
import { UserError } from "../../core/model/userError";
import { curvesOver } from "../../core/speech/curvesOver";
import { mannerSchema, MOUTH_ONLY, type Manner } from "../../core/speech/manner";
import { visemeOf, type SpokenLine } from "../../core/speech/phones";
import { lineOfCsv, lineOfTextGrid } from "../../core/speech/readLine";
import { speak as speakLine, type Spoken } from "../../core/speech/speak";
import { textGridOfLine } from "../../core/speech/writeLine";
import { nameOfLine } from "../../core/trials/linePiece";
import { alignRecording } from "../../voice/alignRecording";
import { isVoice, VOICES } from "../../voice/flite";
import { sayLine, type OwnWords } from "../../voice/sayLine";
import { momentFrom } from "../options";
import { printJson } from "../printJson";
import { readBytes, readCharacter } from "../readCharacter";
import { table } from "../table";
import { writeOut } from "../writeOut";

interface SpeakOptions {
  readonly text?: string;
  readonly voice?: string;
  readonly wav?: string;
  readonly textgrid?: string;
  readonly phones?: string;
  readonly manner?: string;
  readonly words?: string;
  readonly shape: string[];
  readonly amount?: string;
  readonly out: string[];
  readonly json?: boolean;
}

/** A line as it was made from what was given. */
interface Given {
  readonly line: SpokenLine;
  /** Its sound; null where it came without. */
  readonly wav: Uint8Array | null;
  readonly name: string;
  readonly notes: readonly string[];
}

/** A line on a character's mouth, met on its mesh; exit 1 when a sound is not met. */
export async function speak(file: string, options: SpeakOptions): Promise<number> {
  const amount = options.amount === undefined ? 1 : Number(options.amount);
  if (!(amount >= 0 && amount <= 1.5))
    throw new UserError(`"${options.amount}" is not between 0 and 1.5.`, "--amount", "1 is as the visemes are.");
  const manner = mannerFrom(options.manner, amount);
  const given = await lineFrom(options);
  const { line } = given;
  const { character } = await readCharacter(file);
  const { weights: under } = momentFrom(character, { joint: [], shape: options.shape, method: "linear" });
  const speech = speakLine(character, line, { manner, under });
  const spoken = { ...speech, curves: curvesOver(speech, under) };
  if (!spoken.faces.some((f) => f.from !== "missing"))
    throw new UserError(
      "None of its visemes is there, as a shape, a mix or action units.",
      file,
      "Make them at Shapes, Coverage.",
    );
  for (const out of options.out) await writeOne(character, given, spoken, out);
  const missing = spoken.faces.filter((f) => f.from === "missing");
  const unmet = spoken.scores.filter((s) => !s.met);
  if (options.json) printJson(documentOf(given, spoken));
  else
    process.stdout.write(
      `${table(
        ["check", "phone", "at", "value", "limit", ""],
        spoken.scores.map((s) => [
          s.check,
          s.phone,
          `${s.at.toFixed(2)} s`,
          `${Number(s.value.toPrecision(3))} ${s.unit}`,
          String(Number(s.limit.toPrecision(3))),
          s.met ? "met" : s.todo,
        ]),
      )}\n${missing.map((f) => `missing: viseme ${f.viseme} (${f.sounds})\n`).join("")}${given.notes
        .map((n) => `${n}\n`)
        .join("")}`,
    );
  return unmet.length || missing.length ? 1 : 0;
}

/** How the line is spoken: a file of amounts, or all articulators by one. */
function mannerFrom(file: string | undefined, amount: number): Manner {
  const plain = { ...MOUTH_ONLY, jaw: amount, lips: amount, tongue: amount };
  if (file === undefined) return plain;
  const json = parseJsonText(new TextDecoder().decode(readBytes(file)), file, "The manner cannot be read as JSON.");
  const parsed = mannerSchema.safeParse(json);
  if (parsed.success) return parsed.data;
  const { what, where } = schemaFault(parsed.error);
  throw new UserError(`The manner does not fit: ${what}.`, `${file}, ${where}`, "See docs/formats.md.");
}

/** Pronunciations of one's own: a JSON object of words and their phones. */
function wordsFrom(file: string | undefined): OwnWords {
  if (file === undefined) return {};
  const json = parseJsonText(new TextDecoder().decode(readBytes(file)), file, "The words cannot be read as JSON.");
  const parsed = z.record(z.string(), z.string()).safeParse(json);
  if (!parsed.success)
    throw new UserError("It is no list of words and their phones.", file, 'Write {"bollard": "B AA1 L ER0 D"}.');
  return Object.fromEntries(Object.entries(parsed.data).map(([word, phones]) => [word.toLowerCase(), phones]));
}

async function lineFrom({ text, voice = "alto", wav, textgrid, phones, words }: SpeakOptions): Promise<Given> {
  const given = [text, textgrid, phones].filter((x) => x !== undefined).length;
  if (given !== 1 || (wav !== undefined && text === undefined))
    throw new UserError(
      "Say what is said, in one way.",
      "--text, --textgrid, --phones, --wav",
      "Give a text, a recording with its text, a TextGrid, or a table of phones.",
    );
  if (textgrid !== undefined)
    return {
      line: lineOfTextGrid(readBytes(textgrid), path.basename(textgrid)),
      wav: null,
      name: path.parse(textgrid).name,
      notes: [],
    };
  if (phones !== undefined)
    return {
      line: lineOfCsv(readBytes(phones), path.basename(phones)),
      wav: null,
      name: path.parse(phones).name,
      notes: [],
    };
  if (!isVoice(voice))
    throw new UserError(`There is no voice named ${voice}.`, "--voice", `Choose ${Object.keys(VOICES).join(", ")}.`);
  const own = wordsFrom(words);
  if (wav !== undefined) {
    const bytes = readBytes(wav);
    const { line, notes } = await alignRecording(bytes, path.basename(wav), text!, own);
    return { line, wav: bytes, name: path.parse(wav).name, notes };
  }
  const said = await sayLine(text!, voice, 1, own);
  return { ...said, name: nameOfLine(said.line) };
}

const documentOf = ({ line, notes }: Given, { curves, scores, faces }: Spoken): object => ({
  seconds: line.seconds,
  words: line.words.map(({ text, from, to, guess = false }) => ({ text, from, to, guess })),
  phones: line.phones.map(({ phone, from, to }) => ({ phone, viseme: visemeOf(phone), from, to })),
  curves: Object.fromEntries(curves.map((c) => [c.shape, Array.from(c.times, (t, k) => [t, c.values[k]])])),
  scores: scores.map(({ todo: _todo, ...score }) => score),
  findings: [
    ...notes.map((message) => ({ check: "speech.text", message })),
    ...scores
      .filter((s) => !s.met)
      .map(({ check, phone, at, value, unit, limit, todo }) => ({
        check,
        phone,
        at,
        value,
        unit,
        limit,
        message: todo,
      })),
    ...faces
      .filter((f) => f.from === "missing")
      .map((f) => ({ check: "shapes.coverage", phone: f.sounds, message: `Viseme ${f.viseme} is missing.` })),
  ],
});

async function writeOne(character: Character, given: Given, spoken: Spoken, out: string): Promise<void> {
  const { line, wav, name } = given;
  switch (path.extname(out).toLowerCase()) {
    case ".glb": {
      const clip = {
        name: uniqueName(name, new Set(character.clips.map((c) => c.name)), "line"),
        tracks: [],
        weights: [...spoken.curves],
      };
      return writeOut(out, await writeGlb({ ...character, clips: [...character.clips, clip] }));
    }
    case ".json":
      return writeOut(out, `${JSON.stringify(documentOf(given, spoken), null, 2)}\n`);
    case ".textgrid":
      return writeOut(out, textGridOfLine(line));
    case ".csv":
      return writeOut(out, weightsTable(spoken.curves, spoken.seconds));
    case ".wav":
      if (wav) return writeOut(out, wav);
      throw new UserError("The line came without a sound.", path.basename(out), "Give --text, or --wav with its text.");
    default:
      throw new UserError(
        `Lines are not written as ${path.extname(out) || "a folder"}.`,
        path.basename(out),
        "Use .glb, .csv, .TextGrid, .wav or .json.",
      );
  }
}
