import path from "node:path";
import { bringClip, BRING_DEFAULTS, type BringSettings, type BroughtClip } from "../../core/clips/bringClip";
import { fitClip } from "../../core/clips/fitClip";
import type { RestOf } from "../../core/clips/transferMotion";
import { CHECKS } from "../../core/checks/entries";
import { runChecks, type CheckRun } from "../../core/checks/runChecks";
import { PROFILES } from "../../core/checks/profile";
import { extension } from "../../core/formats/formats";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import type { Character, Clip } from "../../core/model/character";
import { shortName, UserError } from "../../core/model/userError";
import { uniqueName } from "../../core/model/uniqueName";
import { printJson } from "../printJson";
import { readCharacter } from "../readCharacter";
import { readClips, readJointMap, type ClipOfFile } from "../readClips";
import { table } from "../table";
import { writeOut } from "../writeOut";

export interface RetargetOptions {
  readonly clip: string;
  readonly name?: string;
  readonly map?: string;
  readonly rest: string;
  readonly travel: string;
  readonly loop: string;
  readonly feet: string;
  readonly fps?: string;
  readonly out: string;
  readonly json?: boolean;
}

const oneOf = <T extends string>(value: string, words: readonly T[], option: string): T => {
  const found = words.find((w) => w === value);
  if (!found) throw new UserError(`"${shortName(value)}" is not ${words.join(" or ")}.`, option, "");
  return found;
};

function restFrom(text: string): RestOf {
  if (text === "file" || text === "first") return text;
  if (text === "T") return { armsBelowLevel: 0 };
  const below = /^A=(-?\d+(?:\.\d+)?)$/.exec(text);
  if (below && Math.abs(Number(below[1])) <= 90) return { armsBelowLevel: Number(below[1]) };
  throw new UserError(
    `"${shortName(text)}" is not file, first, T or A=degrees.`,
    "--rest",
    "A=40: arms 40 degrees under level.",
  );
}

/** A clip of another skeleton on the character's: its keys with the character (GLB), or on its skeleton alone (BVH). */
export async function retarget(file: string, options: RetargetOptions): Promise<number> {
  const kind = oneOf(extension(options.out), ["glb", "bvh"], "--out");
  const fps = options.fps === undefined ? undefined : Number(options.fps);
  if (fps !== undefined && !(fps >= 1 && fps <= 240))
    throw new UserError(`"${options.fps}" is no number of frames a second from 1 to 240.`, "--fps", "");
  const settings: BringSettings = {
    ...BRING_DEFAULTS,
    rest: restFrom(options.rest),
    travel: oneOf(options.travel, ["keep", "in-place"], "--travel") === "keep" ? "kept" : "on the spot",
    loop: oneOf(options.loop, ["auto", "off"], "--loop") === "auto",
    hold: oneOf(options.feet, ["hold", "free"], "--feet") === "hold",
  };
  const map = options.map ? readJointMap(options.map) : {};
  const { character } = await readCharacter(file);
  const found = pick(await readClips(options.clip, character, map, fps), options);
  const name = uniqueName(found.source.name, new Set(character.clips.map((c) => c.name)), "clip");
  // a figure that rests alike, with nothing asked of it: its keys as they are
  const asked = settings.hold || settings.travel !== "kept" || settings.rest !== "file";
  const brought = bringClip(character, found.source, name, settings);
  const clip: Clip =
    found.same && !asked && !brought.report.loop
      ? { ...found.same, name }
      : bare(fitClip(character, brought.clip, brought.fitting));
  const carrier: Character = { ...character, clips: [clip] };
  const checked = await runChecks(carrier, PROFILES.realtime, { only: CLIP_CHECKS });
  writeOut(
    options.out,
    kind === "bvh"
      ? writeBvh(character.skeleton!, clip, { fps: brought.report.keptFps })
      : await writeGlb({ ...character, clips: [...character.clips, clip] }),
  );
  report(options, brought, checked, found, character);
  return checked.summary.error > 0 ? 1 : 0;
}

const CLIP_CHECKS = CHECKS.filter((c) => c.id.startsWith("clip.")).map((c) => c.id);

/** A clip without what it was before it was fitted: files hold one movement. */
const bare = ({ name, tracks, weights }: Clip): Clip => ({ name, tracks, ...(weights ? { weights } : {}) });

function pick(clips: readonly ClipOfFile[], { clip, name }: RetargetOptions): ClipOfFile {
  if (name === undefined) {
    if (clips.length > 1)
      process.stderr.write(
        `yxomorph: ${path.basename(clip)} holds ${clips.length} clips; ${shortName(clips[0]!.source.name)} is taken. ` +
          "Name another with --name.\n",
      );
    return clips[0]!;
  }
  const found = clips.find((c) => c.source.name === name);
  if (found) return found;
  throw new UserError(
    `There is no clip named ${shortName(name)}.`,
    "--name",
    `It holds ${clips.map((c) => shortName(c.source.name)).join(", ")}.`,
  );
}

function report(
  options: RetargetOptions,
  { report: r }: BroughtClip,
  checked: CheckRun,
  { source }: ClipOfFile,
  character: Character,
): void {
  if (options.json)
    return printJson({
      source: {
        joints: r.joints,
        frames: r.frames,
        seconds: r.seconds,
        fps: r.fps,
        unit: r.unit,
        up: r.up,
        facing: r.facing,
        rest: r.rest,
      },
      map: r.map,
      unmapped: r.unmapped,
      leftOut: r.leftOut,
      loop: options.loop === "auto" ? r.loop : null,
      slide: r.slide,
      told: r.told,
      ...checked,
    });
  process.stdout.write(`${source.name} on ${character.name}: ${r.told.join("; ")}\n\n`);
  process.stdout.write(
    `${table(
      ["joint of the clip", "bone", "joint of the character"],
      r.map.map((m) => [m.source, m.humanoid ?? "-", m.target]),
    )}\n\n`,
  );
  if (r.unmapped.length) process.stdout.write(`left out: ${r.unmapped.join(", ")}\n`);
  if (r.slide)
    process.stdout.write(`feet slide ${r.slide.before.toFixed(3)} m/s, now ${r.slide.after.toFixed(3)} m/s\n`);
  for (const f of checked.findings) process.stdout.write(`${f.severity}: ${f.message}\n`);
  process.stdout.write(`written ${path.basename(options.out)}\n`);
}
