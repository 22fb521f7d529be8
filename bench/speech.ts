import { loadMember } from "../demo/cast";
import { speak } from "../core/speech/speak";
import { alignRecording } from "../voice/alignRecording";
import { sayLine } from "../voice/sayLine";
import { report } from "./sideBySide";

/** A line of text to phones and sound, to curves on a mouth, and its recording to phones: against how long it lasts. */
const TEXT =
  "The next boat leaves from pier five. Please mind the wet planks by the bollard. " +
  "Thick fog over the bay, so we move with both lamps. Thank you for visiting mother of pearl wharf.";
const oda = await loadMember("oda");
const wick = await loadMember("wick");

const median = async (work: () => unknown, runs = 5): Promise<number> => {
  const times: number[] = [];
  await work();
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    await work();
    times.push((performance.now() - start) / 1000);
  }
  return times.sort((a, b) => a - b)[runs >> 1]!;
};

const short = await sayLine("The next boat leaves from pier five.", "alto");
const { line, wav } = await sayLine(TEXT, "tenor");
const row = (what: string, seconds: number, long: number, wanted: string): void =>
  report(what, `${seconds.toFixed(2)} s, ${(long / seconds).toFixed(1)} x`, wanted);

report("lines", `${short.line.seconds.toFixed(1)} s and ${line.seconds.toFixed(1)} s long`);
row(
  "text to phones and sound, against how long it lasts",
  await median(() => sayLine("The next boat leaves from pier five.", "alto")),
  short.line.seconds,
  "under 1 s",
);
row(
  "phones to curves that are met on Oda's mouth",
  await median(() => speak(oda, short.line)),
  short.line.seconds,
  "under 0.5 s",
);
row("  on Wick's", await median(() => speak(wick, short.line)), short.line.seconds, "under 0.5 s");
row(
  "a recording of ten seconds laid on its text",
  await median(() => alignRecording(wav, "line.wav", TEXT), 3),
  line.seconds,
  "under 2 s",
);
