import path from "node:path";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { writeTextGrid } from "../../core/formats/textgrid/writeTextGrid";
import { UserError } from "../../core/model/userError";
import { uniqueName } from "../../core/model/uniqueName";
import { weightsTable } from "../../core/clips/weightsTable";
import type { Character } from "../../core/model/character";
import { SILENCE, visemeOf, type SpokenLine } from "../../core/speech/phones";
import { MOUTH_ONLY } from "../../core/speech/manner";
import { lineOfCsv, lineOfTextGrid } from "../../core/speech/readLine";
import { speak as speakLine, type Spoken } from "../../core/speech/speak";
import { momentFrom } from "../options";
import { printJson } from "../printJson";
import { readBytes, readCharacter } from "../readCharacter";
import { table } from "../table";
import { writeOut } from "../writeOut";

interface SpeakOptions {
  readonly textgrid?: string;
  readonly phones?: string;
  readonly shape: string[];
  readonly amount?: string;
  readonly out: string[];
  readonly json?: boolean;
}

/** A line on a character's mouth, met on its mesh; exit 1 when a sound is not met. */
export async function speak(file: string, options: SpeakOptions): Promise<number> {
  const line = lineFrom(options);
  const amount = options.amount === undefined ? 1 : Number(options.amount);
  if (!(amount >= 0 && amount <= 1.5))
    throw new UserError(`"${options.amount}" is not between 0 and 1.5.`, "--amount", "1 is as the visemes are.");
  const { character } = await readCharacter(file);
  const { weights: under } = momentFrom(character, { joint: [], shape: options.shape, method: "linear" });
  const spoken = speakLine(character, line, {
    manner: { ...MOUTH_ONLY, jaw: amount, lips: amount, tongue: amount },
    under,
  });
  if (!spoken.curves.length)
    throw new UserError(
      "None of its visemes is there, as a shape, a mix or action units.",
      file,
      "Make them at Shapes, Coverage.",
    );
  for (const out of options.out) await writeOne(character, line, spoken, out, nameOf(options));
  const missing = spoken.faces.filter((f) => f.from === "missing");
  const unmet = spoken.scores.filter((s) => !s.met);
  if (options.json) printJson(documentOf(line, spoken));
  else
    process.stdout.write(
      `${table(
        ["check", "phone", "at", "value", "limit", ""],
        spoken.scores.map((s) => [
          s.check,
          s.phone,
          `${s.at.toFixed(2)} s`,
          `${Number(s.value.toPrecision(3))} ${s.unit}`,
          String(s.limit),
          s.met ? "met" : s.todo,
        ]),
      )}\n${missing.map((f) => `missing: viseme ${f.viseme} (${f.sounds})\n`).join("")}`,
    );
  return unmet.length || missing.length ? 1 : 0;
}

const nameOf = ({ textgrid, phones }: SpeakOptions): string => path.parse(textgrid ?? phones ?? "line").name;

function lineFrom({ textgrid, phones }: SpeakOptions): SpokenLine {
  if ((textgrid === undefined) === (phones === undefined))
    throw new UserError("Say what is said.", "--textgrid, --phones", "Give one of the two.");
  if (textgrid !== undefined) return lineOfTextGrid(readBytes(textgrid), path.basename(textgrid));
  return lineOfCsv(readBytes(phones!), path.basename(phones!));
}

const documentOf = ({ seconds, words, phones }: SpokenLine, { curves, scores, faces }: Spoken): object => ({
  seconds,
  words: words.map((w) => ({ ...w, guess: false })),
  phones: phones.map(({ phone, from, to }) => ({ phone, viseme: visemeOf(phone), from, to })),
  curves: Object.fromEntries(curves.map((c) => [c.shape, Array.from(c.times, (t, k) => [t, c.values[k]])])),
  scores: scores.map(({ todo: _todo, ...score }) => score),
  findings: [
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

async function writeOne(
  character: Character,
  line: SpokenLine,
  spoken: Spoken,
  out: string,
  name: string,
): Promise<void> {
  const kind = path.extname(out).toLowerCase();
  if (kind === ".glb") {
    const clip = {
      name: uniqueName(name, new Set(character.clips.map((c) => c.name)), "line"),
      tracks: [],
      weights: [...spoken.curves],
    };
    writeOut(out, await writeGlb({ ...character, clips: [...character.clips, clip] }));
  } else if (kind === ".json") writeOut(out, `${JSON.stringify(documentOf(line, spoken), null, 2)}\n`);
  else if (kind === ".textgrid") {
    const words = filled(
      line.words.map((w) => ({ ...w })),
      line.seconds,
    );
    writeOut(
      out,
      writeTextGrid([
        { name: "words", intervals: words },
        {
          name: "phones",
          intervals: line.phones.map((p) => ({ from: p.from, to: p.to, text: p.phone === SILENCE ? "" : p.phone })),
        },
      ]),
    );
  } else if (kind === ".csv") {
    writeOut(out, weightsTable(spoken.curves, spoken.seconds));
  } else
    throw new UserError(
      `Lines are not written as ${kind || "a folder"}.`,
      path.basename(out),
      "Use .glb, .csv, .TextGrid or .json.",
    );
}

/** Words with what lies between them, so that a tier has no gap. */
function filled(
  words: readonly { from: number; to: number; text: string }[],
  end: number,
): { from: number; to: number; text: string }[] {
  const out: { from: number; to: number; text: string }[] = [];
  let t = 0;
  for (const w of words) {
    if (w.from > t + 1e-6) out.push({ from: t, to: w.from, text: "" });
    out.push({ ...w, from: out.length ? out[out.length - 1]!.to : w.from });
    t = w.to;
  }
  if (end > t + 1e-6) out.push({ from: t, to: end, text: "" });
  return out;
}
