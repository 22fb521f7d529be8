import path from "node:path";
import { weightsTable } from "../../core/clips/weightsTable";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import type { Character } from "../../core/model/character";
import { parseJsonText } from "../../core/model/parseJsonText";
import { schemaFault } from "../../core/model/schemaWords";
import { uniqueName } from "../../core/model/uniqueName";
import { UserError } from "../../core/model/userError";
import { channelMapSchema, mapOn, proposeMap, uncovered, type ChannelMap } from "../../core/tracking/channelMap";
import { withNeutral } from "../../core/tracking/captured";
import { keysIn, TOLERANCE } from "../../core/tracking/recordedFace";
import { readTake } from "../../core/tracking/readTake";
import { steadySchema } from "../../core/tracking/steadyFace";
import { cutTake, framesOf, secondsOf, seenFrames, type Take } from "../../core/tracking/take";
import { bakeTrial } from "../../core/trials/bakeTrial";
import { readTakeOn, takePiece } from "../../core/trials/takePiece";
import { emptyTrial, RATES } from "../../core/trials/trial";
import { printJson } from "../printJson";
import { readBytes, readCharacter } from "../readCharacter";
import { table } from "../table";
import { writeOut } from "../writeOut";

interface TrackOptions {
  readonly take: string;
  readonly map?: string;
  readonly neutral?: string;
  readonly steady?: string;
  readonly quick?: string;
  readonly tolerance?: string;
  readonly out: string[];
  readonly json?: boolean;
}

/** A recorded face on a character's shapes and head, read for what it uses; exit 1 when something is over a limit. */
export async function track(file: string, options: TrackOptions): Promise<number> {
  const { take, notes } = readTake(readBytes(options.take), path.basename(options.take));
  const { character } = await readCharacter(file);
  const map = mapOf(take, character, file, options);
  const settings = {
    map,
    steady: steadySchema.parse({
      steady: share(options.steady, "--steady", 0.5),
      quick: share(options.quick, "--quick", 0.5),
    }),
    tolerance: share(options.tolerance, "--tolerance", TOLERANCE),
  };
  const readings = readTakeOn(take, settings, character);
  const piece = takePiece(take, settings, { start: 0, id: "take" });
  for (const out of options.out) await writeOne(character, piece, take, out);
  const tracked = { take, notes, map, readings, keys: keysIn(piece.face) };
  if (options.json) printJson({ ...asJson(tracked), ...uncovered(character, map) });
  else process.stdout.write(asText(tracked));
  return readings.findings.some((f) => f.severity !== "note") ? 1 : 0;
}

/** The map that is given or proposed, as this character takes it. */
function mapOf(take: Take, character: Character, file: string, options: TrackOptions): ChannelMap {
  const given = options.map === undefined ? proposeMap(take.channels, character) : mapFrom(options.map);
  const here = mapOn(character, given, take.channels);
  const map = options.neutral === undefined ? here : withNeutral(here, neutralPart(take, options.neutral));
  if (map.channels.some((r) => r.shapes.length)) return map;
  throw new UserError(
    "None of its channels moves a shape of this character.",
    file,
    "Give the character face shapes, or say with --map which shapes the channels move.",
  );
}

interface Tracked {
  readonly take: Take;
  /** What the reader of the file says. */
  readonly notes: readonly string[];
  readonly map: ChannelMap;
  readonly readings: ReturnType<typeof readTakeOn>;
  readonly keys: number;
}
const lostIn = (take: Take): number => framesOf(take) - seenFrames(take).length;

const asJson = ({ take, notes, map, readings, keys }: Tracked): object => ({
  rate: take.rate,
  frames: framesOf(take),
  seconds: secondsOf(take),
  lost: lostIn(take),
  map: map.channels.map((r) => ({
    channel: r.channel,
    neutral: r.neutral,
    found: r.found,
    shapes: r.shapes.map(({ shape, gain, offset, curve, low, high }) => ({ shape, gain, offset, curve, low, high })),
  })),
  lagMs: readings.lagMs,
  noise: { before: readings.noise, after: readings.steadyNoise },
  keys,
  findings: [...notes.map((message) => ({ check: "tracking.file", severity: "note", message })), ...readings.findings],
});

function asText({ take, notes, map, readings, keys }: Tracked): string {
  const rows = map.channels.map((r) => [
    r.channel,
    r.shapes.map((l) => `${l.shape} ×${l.gain}`).join(", ") || "nothing",
    r.found,
    percent(readings.channels.find((x) => x.channel === r.channel)?.used ?? 0),
  ]);
  const lag = readings.lagMs === null ? "" : `, ${Math.round(readings.lagMs)} ms late`;
  const said = [...notes, ...readings.findings.map((f) => `${f.severity}: ${f.message} ${f.todo}`)];
  return (
    `${table(["channel", "moves", "found", "uses"], rows)}\n${framesOf(take)} frames at ${Number(take.rate.toFixed(2))}/s, ` +
    `${lostIn(take)} lost; noise ${readings.noise.toFixed(3)}, steadied ${readings.steadyNoise.toFixed(3)}${lag}; ` +
    `${keys} keys\n${said.map((n) => `${n}\n`).join("")}`
  );
}

const percent = (v: number): string => `${Math.round(100 * v)} %`;

function share(text: string | undefined, option: string, otherwise: number): number {
  const value = text === undefined ? otherwise : Number(text);
  if (!(value >= 0 && value <= 1)) throw new UserError(`"${text}" is not between 0 and 1.`, option, "Give a number.");
  return value;
}

/** A map of channels: as it is kept, or as `track --json` prints it. */
function mapFrom(file: string): ChannelMap {
  const json = parseJsonText(new TextDecoder().decode(readBytes(file)), file, "The map cannot be read as JSON.");
  const rows = (json as { map?: unknown } | null)?.map;
  const parsed = channelMapSchema.safeParse(Array.isArray(json) || rows ? { channels: rows ?? json } : json);
  if (parsed.success) return parsed.data;
  const { what, where } = schemaFault(parsed.error);
  throw new UserError(`The map does not fit: ${what}.`, `${file}, ${where}`, "See docs/formats.md.");
}

/** The part of a take in which the face is at rest. */
function neutralPart(take: Take, text: string): Take {
  const [from, to] = text.split("..").map((t) => (t.trim() === "" ? NaN : Number(t))) as [number, number?];
  if (!(from >= 0) || to === undefined || !(to > from))
    throw new UserError(`"${text}" is no stretch of time.`, "--neutral", "Write it as 0..1.5, in seconds.");
  const part = cutTake(take, from, to);
  if (framesOf(part) === 0 || !part.values.some(Number.isFinite))
    throw new UserError(
      `No face was seen from ${from} to ${to} s.`,
      "--neutral",
      `The take lasts ${secondsOf(take).toFixed(2)} s.`,
    );
  return part;
}

async function writeOne(
  character: Character,
  piece: ReturnType<typeof takePiece>,
  take: Take,
  out: string,
): Promise<void> {
  const kind = path.extname(out).toLowerCase();
  if (kind !== ".glb" && kind !== ".csv")
    throw new UserError(`Takes are not written as ${kind || "a folder"}.`, path.basename(out), "Use .glb or .csv.");
  const fps = RATES.find((r) => r >= Math.min(60, take.rate) - 0.5) ?? 60;
  const trial = { ...emptyTrial("take"), fps };
  const name = uniqueName(piece.name, new Set(character.clips.map((c) => c.name)), "take");
  const clip = bakeTrial(character, { ...trial, lanes: { ...trial.lanes, tracking: [piece] } }, name);
  if (!clip) throw new UserError("The character has no skeleton.", path.basename(out), "Give it one first.");
  if (kind === ".csv") return writeOut(out, weightsTable(clip.weights ?? [], piece.face.seconds));
  return writeOut(out, await writeGlb({ ...character, clips: [...character.clips, clip] }));
}
