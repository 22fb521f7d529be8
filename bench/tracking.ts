import { OneEuroFilter } from "1eurofilter";
import { loadMember } from "../demo/cast";
import { takeCsv, TAKES } from "../demo/takes/takes";
import { OneEuro } from "../core/tracking/oneEuro";
import { readTake } from "../core/tracking/readTake";
import { SteadyFace } from "../core/tracking/steadyFace";
import { StreamReader } from "../core/tracking/streamReader";
import { faceMoment, facePlayer } from "../core/trials/takeMoment";
import { plainSettings, readTakeOn, takePiece } from "../core/trials/takePiece";
import { evaluate } from "../core/evaluate/evaluate";
import { REST_MOMENT } from "../core/evaluate/moment";
import { makeRig } from "../core/deform/rig";
import { LiveDeform } from "../core/deform/liveDeform";
import { medianMs, report, turnAbout } from "./sideBySide";

/** A stream's frames read, steadied and laid on a face; the filter beside the authors' own; a take laid down. */
const oda = await loadMember("oda");
const demo = TAKES[0]!;
const { take } = readTake(new TextEncoder().encode(takeCsv(demo)), "greeting.csv");
const settings = plainSettings(take, oda);
const player = facePlayer(oda, settings.map, take.channels);
const messages = [demo.hello, ...demo.frames].map((m) => JSON.stringify(m));

const stream = (): void => {
  const reader = new StreamReader();
  const face = new SteadyFace(take.channels.length, settings.steady);
  for (const [i, text] of messages.entries()) {
    const got = reader.push(text, i);
    if (got.kind !== "frame") continue;
    const { time, values, head, gaze } = got.frame;
    face.push({ time, values, head: head ?? null, gaze: gaze ?? null });
    faceMoment(player, face);
  }
};
const ms = medianMs(stream, 9, 2);
report(
  "frames of a stream read, steadied and mapped, 15 channels",
  `${Math.round((1000 * demo.frames.length) / ms)} frames/s`,
);

const live = new LiveDeform(makeRig(oda));
const rig = makeRig(oda);
const face = new SteadyFace(take.channels.length, settings.steady);
let at = 0;
const drawn = medianMs(
  () => {
    const { values, head, gaze } = demo.frames[at++ % demo.frames.length]!;
    face.push({ time: at / 60, values, head: head ?? null, gaze: gaze ?? null });
    const moment = { ...REST_MOMENT, sources: [faceMoment(player, face)] };
    evaluate(oda, moment);
    live.update(rig, moment, () => true);
  },
  60,
  10,
);
report("a frame to Oda's corners, ready to be drawn", `${drawn.toFixed(1)} ms`);

const width = 52;
const values = Float64Array.from({ length: width }, (_, i) => Math.sin(i));
const ours = new OneEuro(width, { minCutoff: 1, beta: 1 });
const theirs = Array.from({ length: width }, () => new OneEuroFilter(60, 1, 1, 1));
let t = 0;
const { slow, fast } = turnAbout(
  () => {
    for (let k = 0; k < 200; k++) {
      t += 1 / 60;
      for (let c = 0; c < width; c++) theirs[c]!.filter(values[c]!, t);
    }
  },
  () => {
    for (let k = 0; k < 200; k++) ours.push(values, 1 / 60);
  },
);
report("One Euro over 52 channels against npm 1eurofilter", `${(slow / fast).toFixed(1)} x as quick`);
const readings = readTakeOn(take, settings, oda);
report(
  "lag through the filter, noise before and after",
  `${readings.lagMs!.toFixed(0)} ms, ${readings.noise.toFixed(3)} to ${readings.steadyNoise.toFixed(3)}`,
  "60 ms, 0.01",
);
report(
  "a take of five seconds laid down, all read",
  `${medianMs(
    () => {
      takePiece(take, settings, { start: 0, id: "x" });
      readTakeOn(take, settings, oda);
    },
    5,
    1,
  ).toFixed(0)} ms`,
);
