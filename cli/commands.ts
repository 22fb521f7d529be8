import type { Command } from "commander";
import { collect } from "./options";

/** Makes an action of a verb, whose code is read when it is asked for: help and a mistyped word answer at once. */
export type Run = <A extends unknown[]>(
  load: () => Promise<(...args: A) => Promise<number>>,
) => (...args: A) => Promise<void>;
type Adds = (program: Command, run: Run) => void;

const json = ["--json", "print one JSON document and nothing else"] as const;
const profile = ["--profile <name>", "realtime, film, crowd or a .json file", "realtime"] as const;

const posing = (c: Command): Command =>
  c
    .option(
      "--joint <NAME=rx,ry,rz>",
      "degrees, intrinsic XYZ on top of the rest rotation, in the joint's own frame; repeatable",
      collect,
      [],
    )
    .option("--shape <NAME=w>", "weight of a shape; repeatable", collect, [])
    .option("--method <method>", "linear or dual", "linear");

const trying = (c: Command): Command =>
  c
    .option("--clip <NAME>", "one clip of the character; all of them where neither clip nor trial is named")
    .option("--trial <file>", "an arrangement of clips and keys, trial.json")
    .option("--fps <n>", "24, 25, 30 or 60 frames a second")
    .option(...profile)
    .option(...json);

/** What is in a file, and what is wrong with it. */
const addReading: Adds = (program, run) => {
  program
    .command("inspect <FILE>")
    .description("what is in a file")
    .option(...json)
    .action(run(async () => (await import("./verbs/inspect")).inspect));
  program
    .command("check <FILE>")
    .description("findings of the checks")
    .option(...profile)
    .option("--only <ids>", "check ids with commas")
    .option(...json)
    .action(run(async () => (await import("./verbs/check")).check));
  program
    .command("sweep <FILE>")
    .description("the pose checks over the range of motion")
    .option("--joint <NAME>", "a joint, or all", "all")
    .option("--steps <n>", "angles per motion", "9")
    .option(...profile)
    .option(...json)
    .action(run(async () => (await import("./verbs/sweep")).sweep));
  program
    .command("pairs <FILE>")
    .description("the pair checks over all pairs of face shapes")
    .option(...profile)
    .option(...json)
    .action(run(async () => (await import("./verbs/pairs")).pairs));
};

/** A posed mesh out, a sculpted one back. */
const addPosing: Adds = (program, run) => {
  posing(program.command("pose <FILE>").description("write the posed mesh"))
    .option("--drivers <on|off>", "drivers", "on")
    .requiredOption("--out <file>", "posed.obj, .ply, .stl or .json")
    .action(run(async () => (await import("./verbs/pose")).pose));
  posing(program.command("correct <FILE>").description("return a sculpt made in a pose to rest, as a driven shape"))
    .requiredOption("--sculpt <file>", "the posed mesh after sculpting, OBJ")
    .requiredOption("--name <NAME>", "name of the corrective")
    .option("--sure", "take a sculpt that looks like one of another pose")
    .option("--driver <rule>", '"JOINT axis from..to", degrees', collect, [])
    .requiredOption("--out <file>", "OUT.glb")
    .option(...json)
    .action(run(async () => (await import("./verbs/correct")).correct));
};

/** Clips, trials, speech and tracked faces. */
const addMotion: Adds = (program, run) => {
  program
    .command("retarget <FILE>")
    .description("a clip of another skeleton on the character's own")
    .requiredOption("--clip <file>", "CLIP.bvh or CLIP.glb; a figure in it is left out")
    .option("--name <CLIPNAME>", "which clip of the file; the first where left out")
    .option("--map <file>", 'joint map of the clip, JSON {"joint": "bone" or null}')
    .option("--rest <rest>", "file, first, T or A=degrees under level", "file")
    .option("--travel <travel>", "keep or in-place", "keep")
    .option("--loop <loop>", "auto: where its ends meet, closed; or off", "auto")
    .option("--feet <feet>", "hold those that stand, or free", "free")
    .option("--fps <n>", "frames a second to keep; its own up to 60 where left out")
    .requiredOption("--out <file>", "OUT.glb with the character, or OUT.bvh on its skeleton")
    .option(...json)
    .action(run(async () => (await import("./verbs/retarget")).retarget));
  trying(program.command("watch <FILE>").description("measure every frame of a trial; moments, worst first")).action(
    run(async () => (await import("./verbs/watch")).watch),
  );
  trying(
    program.command("compare <BEFORE> <AFTER>").description("what came, went and moved, findings gone and new"),
  ).action(run(async () => (await import("./verbs/compare")).compare));
  program
    .command("speak <FILE>")
    .description("a line on the character's visemes, its sounds met on the mesh and scored")
    .option("--text <text>", "what is said, by a voice of the synthesiser; with --wav, what the recording says")
    .option("--voice <name>", "alto, bass, tenor or buzz", "alto")
    .option("--wav <file>", "a recording of the text: its phones are found in it")
    .option("--words <file>", "pronunciations of one's own, JSON of words and ARPAbet phones")
    .option("--manner <file>", "amounts of jaw, lips, tongue, blinks and more, JSON")
    .option("--textgrid <file>", "phones in ARPAbet with times, and words")
    .option("--phones <file>", "a table of phone, from, to; seconds")
    .option("--amount <n>", "how much of its visemes the mouth does, 0 to 1.5")
    .option("--shape <NAME=w>", "a shape that stands under the speech; repeatable", collect, [])
    .option("--out <file>", "OUT.glb, .csv, .TextGrid, .wav or .json; repeatable", collect, [])
    .option(...json)
    .action(run(async () => (await import("./verbs/speak")).speak));
  program
    .command("track <FILE>")
    .description("a recorded face on a character's shapes, head and eyes, steadied and read")
    .requiredOption("--take <file>", "a take as CSV or JSON, with any names of channels")
    .option("--map <file>", "which shapes the channels move, JSON; else found by the words of their names")
    .option("--neutral <from..to>", "seconds of the take in which the face is at rest")
    .option("--steady <n>", "how much it is steadied, 0 to 1")
    .option("--quick <n>", "how much quick movements are let through, 0 to 1")
    .option("--tolerance <n>", "most that keys may be off, of a channel's 1")
    .option("--out <file>", "OUT.glb or .csv; repeatable", collect, [])
    .option(...json)
    .action(run(async () => (await import("./verbs/track")).track));
};

/** From file to file. */
const addFiles: Adds = (program, run) => {
  program
    .command("replay <LEDGER>")
    .description("run a ledger, saved at Hand-off, on another delivery of the character")
    .requiredOption("--on <file>", "the delivery")
    .requiredOption("--out <file>", "OUT.glb")
    .option(
      "--profile <name>",
      "limits that say whether a repair is needed: realtime, film, crowd or a .json file",
      "realtime",
    )
    .option(...json)
    .action(run(async () => (await import("./verbs/replay")).replay));
  program
    .command("convert <IN> <OUT>")
    .description("between glTF, VRM 1.0, OBJ, OBJ sets (a folder with base and targets), STL, PLY and JSON")
    .option(
      "--triangles <n>",
      "collapse edges until the whole character has at most n triangles; " +
        "weights and shapes stay as they are at the vertices that remain",
    )
    .option("--shapes <none>", "a GLB without shapes; its poses are proved to be the same")
    .option("--shape <NAME=w>", "with --shapes none: a shape that stands in its rest places; repeatable", collect, [])
    .action(run(async () => (await import("./verbs/convert")).convert));
  program
    .command("demo <OUTDIR>")
    .description("write the made-up cast as files")
    .action(run(async () => (await import("./verbs/demo")).demo));
};

/** Every verb of the command line with its options. */
export const VERBS: readonly Adds[] = [addReading, addPosing, addMotion, addFiles];
