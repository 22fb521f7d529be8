import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { encode } from "fast-png";
import { z } from "zod";
import { findingSchema } from "../core/checks/findingSchema";
import { readGlb } from "../core/formats/glb/readGlb";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { readObj } from "../core/formats/obj/readObj";
import { deform, makeRig } from "../core/deform/rig";
import { REST_MOMENT } from "../core/evaluate/moment";
import type { Character } from "../core/model/character";
import { main } from "./main";
import { writeBvh } from "../core/formats/bvh/writeBvh";
import { boxPart, characterWith, figureSkeleton, rigidSkin, shapeOf, tube } from "../tests/helpers/characters";

const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-cli-"));
const at = (name: string): string => path.join(dir, name);
const limb = { ...tube(), shapes: [shapeOf("bulge", { 10: [0.01, 0, 0] })] };
const program = path.join(process.cwd(), "cli", "yxomorph.mjs");

/** The real command line in a process of its own. */
function runOutside(...words: string[]): { code: number | null; out: string; err: string } {
  const { status, stdout, stderr } = spawnSync(process.execPath, [program, ...words], {
    encoding: "utf8",
    env: { ...process.env, NODE_OPTIONS: "" },
  });
  return { code: status, out: stdout, err: stderr };
}

/** The same in this process, without the second and a half that one of its own takes to start. */
async function run(...words: string[]): Promise<{ code: unknown; out: string; err: string }> {
  const writes = [process.stdout, process.stderr].map((stream) => jest.spyOn(stream, "write").mockReturnValue(true));
  try {
    await main(["node", "yxomorph", ...words]);
    const [out, err] = writes.map((w) => w.mock.calls.map(([text]) => String(text)).join(""));
    return { code: process.exitCode, out: out!, err: err! };
  } finally {
    for (const w of writes) w.mockRestore();
    process.exitCode = 0;
  }
}

beforeAll(async () => {
  writeFileSync(at("limb.glb"), await writeGlb(limb));
  writeFileSync(
    at("box.glb"),
    await writeGlb(characterWith({ parts: [boxPart("body", [0.2, 0.85, 0.2], [0, 0.85, 0])] })),
  );
  writeFileSync(at("cut.glb"), (await writeGlb(limb)).slice(0, 400));
});

describe("inspect", () => {
  it("prints one JSON document of the documented form", () => {
    const { code, out, err } = runOutside("inspect", at("limb.glb"), "--json");
    expect([code, err]).toEqual([0, ""]);
    const json = z
      .object({
        file: z.string(),
        sha256: z.string().length(64),
        format: z.string(),
        units: z.string(),
        up: z.string(),
        stature: z.number(),
        parts: z.array(
          z.object({
            name: z.string(),
            kind: z.string(),
            vertices: z.number(),
            triangles: z.number(),
            materials: z.array(z.string()),
            shapes: z.array(z.string()),
          }),
        ),
        joints: z.array(
          z.object({
            name: z.string(),
            parent: z.string().nullable(),
            humanoid: z.string().nullable(),
            side: z.string().nullable(),
          }),
        ),
        shapes: z.array(z.object({ name: z.string(), parts: z.array(z.string()), maxDelta: z.number() })),
        clips: z.array(z.unknown()),
      })
      .parse(JSON.parse(out));
    expect(json.parts[0]).toMatchObject({
      name: "limb",
      vertices: limb.parts[0]!.positions.length / 3,
      shapes: ["bulge"],
    });
    expect(json.joints.map((j) => [j.name, j.parent])).toEqual([
      ["upper", null],
      ["lower", "upper"],
    ]);
  });
  it("prints a table without --json", async () =>
    expect((await run("inspect", at("limb.glb"))).out).toMatch(/limb.*\n/));
});

describe("check", () => {
  it("ends with 1 when it finds errors, findings in the documented form", () => {
    const { code, out } = runOutside("check", at("box.glb"), "--json");
    const json = z
      .object({
        file: z.string(),
        sha256: z.string(),
        profile: z.string(),
        findings: z.array(findingSchema),
        summary: z.object({ error: z.number(), warn: z.number(), note: z.number() }),
      })
      .parse(JSON.parse(out));
    expect(json.findings.some((f) => f.check === "skeleton.required")).toBe(true);
    expect(code).toBe(1);
  });
  it("ends with 0 when only other checks are asked for", async () =>
    expect((await run("check", at("box.glb"), "--only", "mesh.loose,scale.stature", "--json")).code).toBe(0));
  it("takes a profile of one's own", async () => {
    writeFileSync(
      at("profile.json"),
      JSON.stringify({
        name: "mine",
        limits: {
          "mesh.budget": 5,
          "weights.count": 4,
          "scale.stature": [0.1, 9],
          "skeleton.rest-bind.degrees": 1,
          "skeleton.rest-bind.mm": 1,
          "skeleton.straight-hinge": [0, 30],
          "weights.sum": 0.01,
          "shapes.empty": 0.1,
          "shapes.followers": 1,
          "pose.volume.warn": -0.1,
          "pose.volume.error": -0.2,
          "pose.penetration": 5,
          "pose.stretch": 2,
        },
      }),
    );
    expect((await run("check", at("limb.glb"), "--profile", at("profile.json"), "--only", "mesh.budget")).out).toMatch(
      /5/,
    );
    writeFileSync(at("bad.json"), "{}");
    const bad = await run("check", at("limb.glb"), "--profile", at("bad.json"));
    expect(bad.code).toBe(2);
    expect(bad.err.trim().split("\n").length).toBe(1);
  });
});

describe("pose and correct", () => {
  it("poses in file order, and takes a sculpt of that pose back to rest", async () => {
    expect(
      (await run("pose", at("limb.glb"), "--joint", "lower=80,0,0", "--shape", "bulge=0.5", "--out", at("posed.obj")))
        .code,
    ).toBe(0);
    const posed = readObj(readFileSync(at("posed.obj")), "posed.obj");
    const ours = deform(makeRig(limb), { ...REST_MOMENT, pose: { lower: [80, 0, 0] }, weights: { bulge: 0.5 } })
      .positions[0]!;
    posed.positions.forEach((x, i) => expect(Math.abs(x - ours[i]!)).toBeLessThan(1e-6));
    const lines = readFileSync(at("posed.obj"), "utf8").split("\n");
    let v = -1;
    writeFileSync(
      at("sculpt.obj"),
      lines
        .map((l) => {
          if (!l.startsWith("v ")) return l;
          v++;
          const [, x, y, z] = l.split(" ").map(Number);
          return v % 50 === 0 ? `v ${x! + 0.003} ${y!} ${z! - 0.002}` : l;
        })
        .join("\n"),
    );
    const { code, out } = await run(
      "correct",
      at("limb.glb"),
      "--joint",
      "lower=80,0,0",
      "--shape",
      "bulge=0.5",
      "--sculpt",
      at("sculpt.obj"),
      "--name",
      "elbow fix",
      "--driver",
      "lower X 20..80",
      "--out",
      at("fixed.glb"),
      "--json",
    );
    expect(code).toBe(0);
    const report = JSON.parse(out) as { residual: { max: number; rms: number } };
    expect(report.residual.max).toBeLessThan(1e-3);
    const fixed = await readGlb(readFileSync(at("fixed.glb")), "fixed.glb");
    expect(fixed.drivers).toEqual([
      expect.objectContaining({ shape: "elbow fix", joint: "lower", fromDegrees: 20, toDegrees: 80 }),
    ]);
    const again = deform(makeRig(fixed), { ...REST_MOMENT, pose: { lower: [80, 0, 0] }, weights: { bulge: 0.5 } })
      .positions[0]!;
    const sculpt = readObj(readFileSync(at("sculpt.obj")), "sculpt.obj").positions;
    again.forEach((x, i) => expect(Math.abs(x - sculpt[i]!)).toBeLessThan(1e-5));
  });
  it.each(["ply", "stl", "json"])("writes .%s", async (kind) => {
    expect((await run("pose", at("limb.glb"), "--method", "dual", "--out", at(`posed.${kind}`))).code).toBe(0);
    expect(existsSync(at(`posed.${kind}`))).toBe(true);
  });
});

describe("speak", () => {
  it("tells what a line lacks on a figure without visemes, and refuses phones that are none", async () => {
    writeFileSync(at("line.csv"), "phone,from,to\nM,0.1,0.2\nAA1,0.2,0.4\n");
    const told = await run("speak", at("limb.glb"), "--phones", at("line.csv"), "--out", at("spoken.glb"));
    expect(told.code).toBe(2);
    expect(told.err).toMatch(/None of its visemes is there/);
    writeFileSync(at("odd.csv"), "X,0,1\n");
    expect((await run("speak", at("limb.glb"), "--phones", at("odd.csv"))).err).toMatch(/"X" at 0.00 s is no phone/);
    expect((await run("speak", at("limb.glb"))).err).toMatch(/Say what is said/);
  });
  it("writes curves as GLB, table, TextGrid and JSON, each with the line's own times", async () => {
    const spoken = {
      ...limb,
      shapes: [shapeOf("viseme_1", { 0: [0, 0.01, 0] }), shapeOf("viseme_10", { 1: [0, 0.01, 0] })],
    };
    writeFileSync(at("mouth.glb"), await writeGlb(spoken));
    writeFileSync(at("line.csv"), "phone,from,to\nM,0.1,0.2\nAA1,0.2,0.4\n");
    const outs = ["glb", "csv", "TextGrid", "json"].flatMap((kind) => ["--out", at(`line.${kind}`)]);
    expect((await run("speak", at("mouth.glb"), "--phones", at("line.csv"), ...outs)).code).toBe(0);
    const clip = (await readGlb(readFileSync(at("line.glb")), "line")).clips.find((c) => c.name === "line")!;
    expect(clip.weights!.map((w) => w.shape).sort()).toEqual(["viseme_1", "viseme_10"]);
    expect(readFileSync(at("line.csv"), "utf8").split("\n")[0]).toMatch(/^seconds,"viseme_/);
    const again = await run("speak", at("mouth.glb"), "--textgrid", at("line.TextGrid"), "--json");
    expect(JSON.parse(again.out)).toEqual(JSON.parse(readFileSync(at("line.json"), "utf8")));
  });
  it("speaks a text by a voice, finds it again in its recording, and says words as they are told", async () => {
    const said = ["--text", "Mind the blorfs"];
    const outs = ["--out", at("said.wav"), "--out", at("said.TextGrid")];
    const told = await run("speak", at("mouth.glb"), ...said, "--voice", "bass", ...outs, "--json");
    const made = JSON.parse(told.out) as { seconds: number; words: { text: string; guess: boolean }[] };
    expect(made.words.map((w) => [w.text, w.guess])).toEqual([
      ["Mind", false],
      ["the", false],
      ["blorfs", true],
    ]);
    expect(readFileSync(at("said.wav")).subarray(0, 4).toString()).toBe("RIFF");
    const heard = await run("speak", at("mouth.glb"), "--wav", at("said.wav"), ...said, "--json");
    expect((JSON.parse(heard.out) as typeof made).seconds).toBeCloseTo(made.seconds, 2);
    writeFileSync(at("words.json"), JSON.stringify({ blorfs: "B L UW1 M" }));
    const own = await run("speak", at("mouth.glb"), ...said, "--words", at("words.json"), "--json");
    const phones = (JSON.parse(own.out) as { phones: { phone: string }[] }).phones.map((p) => p.phone).join(" ");
    expect(phones).toContain("B L UW M");
  });
  it("refuses two ways at once, voices and manners that are none, and a sound where there is none", async () => {
    const refused = async (...args: string[]): Promise<string> => (await run("speak", at("mouth.glb"), ...args)).err;
    expect(await refused("--text", "hello", "--phones", at("line.csv"))).toMatch(/in one way/);
    expect(await refused("--wav", at("said.wav"))).toMatch(/in one way/);
    expect(await refused("--text", "hello", "--voice", "nobody")).toMatch(/Choose alto, bass, tenor, buzz/);
    writeFileSync(at("manner.json"), '{"jaw": 9}');
    expect(await refused("--text", "hello", "--manner", at("manner.json"))).toMatch(/The manner does not fit/);
    expect(await refused("--textgrid", at("line.TextGrid"), "--out", at("x.wav"))).toMatch(/came without a sound/);
  });
});

describe("sweep and convert", () => {
  it("refuses a joint without a range", async () =>
    expect((await run("sweep", at("limb.glb"), "--joint", "lower")).err).toMatch(/range of motion/));
  it("writes a GLB without shapes and proves its poses; anything but a GLB is refused", async () => {
    const told = await run("convert", at("limb.glb"), at("plain.glb"), "--shapes", "none");
    expect(told.code).toBe(0);
    expect(told.err).toMatch(/poses compared.*joints to 0\.0000\d mm, skin to 0\.00\d+ mm/);
    expect((await readGlb(readFileSync(at("plain.glb")), "plain")).shapes).toEqual([]);
    expect((await run("convert", at("limb.glb"), at("plain.obj"), "--shapes", "none")).err).toMatch(/Only a GLB/);
    expect((await run("convert", at("limb.glb"), at("plain.glb"), "--shapes", "some")).err).toMatch(/no way to write/);
  });
  it("converts GLB to OBJ", async () => {
    expect((await run("convert", at("limb.glb"), at("out.obj"))).code).toBe(0);
    expect(readObj(readFileSync(at("out.obj")), "out.obj").positions.length).toBe(limb.parts[0]!.positions.length);
  });
  it(
    "keeps materials and textures on the way to OBJ and " + "back, the library and its images found beside the file",
    async () => {
      const png = encode({ width: 2, height: 2, data: new Uint8Array(12).fill(90), channels: 3, depth: 8 });
      const painted: Character = {
        ...limb,
        materials: [
          {
            ...limb.materials[0]!,
            name: "paint",
            baseColor: [0.25, 0.5, 1, 1],
            roughness: 0.4,
            texture: { name: "bark", mimeType: "image/png", bytes: png },
          },
        ],
        parts: limb.parts.map((p) => ({
          ...p,
          uvs: Float32Array.from({ length: (2 * p.positions.length) / 3 }, (_, i) => (i % 7) / 7),
        })),
      };
      writeFileSync(at("painted.glb"), await writeGlb(painted));
      expect((await run("convert", at("painted.glb"), at("painted.obj"))).code).toBe(0);
      expect(existsSync(at("painted-bark.png"))).toBe(true);
      // as written on another machine
      writeFileSync(
        at("painted.mtl"),
        readFileSync(at("painted.mtl"), "utf8").replace("painted-bark.png", "D:\\art\\textures\\painted-bark.png"),
      );
      expect((await run("convert", at("painted.obj"), at("back.glb"))).code).toBe(0);
      const back = await readGlb(readFileSync(at("back.glb")), "back.glb");
      expect(back.materials[0]).toMatchObject({ name: "paint", roughness: 0.4, texture: { mimeType: "image/png" } });
      back.materials[0]!.baseColor.forEach((x, i) => expect(x).toBeCloseTo(painted.materials[0]!.baseColor[i]!, 5));
      expect([...back.materials[0]!.texture!.bytes]).toEqual([...png]);
      back.parts[0]!.uvs!.forEach((x, i) => expect(x).toBeCloseTo(painted.parts[0]!.uvs![i]!, 6));
    },
  );
});

describe("sets and VRM", () => {
  it("writes an OBJ set into a folder and reads it back with its shapes", async () => {
    expect((await run("convert", at("limb.glb"), at("set"))).code).toBe(0);
    const shapes = async (file: string): Promise<{ name: string; maxDelta: number }[]> =>
      (JSON.parse((await run("inspect", at(file), "--json")).out) as { shapes: { name: string; maxDelta: number }[] })
        .shapes;
    expect(readdirSync(at("set")).sort()).toEqual(
      ["base.mtl", "base.obj", ...limb.shapes.map((s) => `${s.name}.obj`)].sort(),
    );
    const again = await shapes("set");
    expect(again.map((s) => s.name).sort()).toEqual(limb.shapes.map((s) => s.name).sort());
    for (const s of await shapes("limb.glb"))
      expect(again.find((a) => a.name === s.name)!.maxDelta).toBeCloseTo(s.maxDelta, 4);
    expect((await run("convert", at("set"), at("again.glb"))).code).toBe(0);
    expect((await shapes("again.glb")).length).toBe(limb.shapes.length);
  });
  it("says what VRM needs when a bone is missing", async () => {
    const { code, err } = await run("convert", at("limb.glb"), at("limb.vrm"));
    expect(code).toBe(2);
    expect(err).toMatch(/VRM 1.0 needs hips/);
    expect(existsSync(at("limb.vrm"))).toBe(false);
  });
});

describe("bad use", () => {
  it.each<[string, string[]]>([
    ["no such verb", ["dance"]],
    ["no such file", ["inspect", "gone.glb"]],
    ["a folder", ["inspect", "."]],
    ["a cut file", ["inspect", "CUT"]],
    ["another format", ["inspect", "package.json"]],
    ["no such joint", ["pose", "LIMB", "--joint", "tail=1,2,3", "--out", "OUT.obj"]],
    ["angles that are not", ["pose", "LIMB", "--joint", "lower=1,b,3", "--out", "OUT.obj"]],
    ["no such shape", ["pose", "LIMB", "--shape", "smirk=1", "--out", "OUT.obj"]],
    ["another output", ["pose", "LIMB", "--out", "OUT.docx"]],
    ["a missing option", ["pose", "LIMB"]],
    ["steps that are not", ["sweep", "LIMB", "--steps", "many"]],
    ["a sculpt that is not there", ["correct", "LIMB", "--sculpt", "gone.obj", "--name", "x", "--out", "OUT.glb"]],
  ])("ends with 2 and one plain line: %s", async (_what, words) => {
    const { code, out, err } = await run(
      ...words.map((w) => w.replace("LIMB", at("limb.glb")).replace("CUT", at("cut.glb")).replace("OUT", at("out"))),
    );
    expect(code).toBe(2);
    expect(out).toBe("");
    expect(err).not.toMatch(/ {4}at /);
    expect(err.trim().split("\n").length).toBeLessThanOrEqual(2);
  });
  it("says when a weight lies outside 0 to 1, and plays it as given", async () => {
    const { code, err } = await run("pose", at("limb.glb"), "--shape", "bulge=3", "--out", at("far.json"));
    expect(code).toBe(0);
    expect(err).toBe("yxomorph: --shape: weight 3 of bulge lies outside 0 to 1; it is played as given.\n");
    expect(existsSync(at("far.json"))).toBe(true);
  });
  it("helps everywhere", async () => {
    expect(runOutside("--help").out).toMatch(/inspect[\s\S]*convert/);
    for (const verb of ["inspect", "check", "pose", "correct", "sweep", "convert", "demo"])
      expect((await run(verb, "--help")).code).toBe(0);
  });
});

describe("bad use", () => {
  const correct = (...words: string[]): string[] => [
    "correct",
    at("limb.glb"),
    "--joint",
    "lower=40,0,0",
    "--sculpt",
    at("posed.obj"),
    ...words,
  ];
  it.each<[string, () => string[], RegExp]>([
    ["no check at all", () => ["check", at("limb.glb"), "--only", ","], /No check is named/],
    [
      "a profile named like a part of the language",
      () => ["check", at("limb.glb"), "--profile", "constructor"],
      /not realtime/,
    ],
    [
      "a folder where a file is read",
      () => ["correct", at("limb.glb"), "--sculpt", dir, "--name", "x", "--out", at("y.glb")],
      /not a file/,
    ],
    ["a corrective without a name", () => correct("--name", " ", "--out", at("y.glb")), /no name/],
    [
      "two drivers",
      () => correct("--name", "x", "--driver", "lower x 0..40", "--driver", "lower y 0..40", "--out", at("y.glb")),
      /2 drivers are named/,
    ],
    [
      "a driver's range without length",
      () => correct("--name", "x", "--driver", "lower x 40..40", "--out", at("y.glb")),
      /has no length/,
    ],
    ["another kind of file than GLB", () => correct("--name", "x", "--out", at("y.obj")), /written as GLB/],
    [
      "a weight beyond all",
      () => ["pose", at("limb.glb"), "--shape", "bulge=1e300", "--out", at("z.obj")],
      /beyond 100/,
    ],
    ["a folder that is not there", () => ["pose", at("limb.glb"), "--out", at("none/z.obj")], /no such folder/],
    ["a folder in place of the file", () => ["convert", at("limb.glb"), at("folder.glb")], /A folder of this name/],
    [
      "JSON a hundred thousand levels deep",
      () => {
        writeFileSync(at("deep.json"), "[".repeat(100_000) + "]".repeat(100_000));
        return ["replay", at("deep.json"), "--on", at("limb.glb"), "--out", at("r.glb")];
      },
      /levels of lists/,
    ],
  ])("is told in one line, with 2: %s", async (_what, words, told) => {
    mkdirSync(at("folder.glb"), { recursive: true });
    const { code, err } = await run(...words());
    expect(err).toMatch(told);
    expect(err).not.toMatch(/fault in the program/);
    expect([code, err.trim().split("\n").length]).toEqual([2, 1]);
  });
});

describe("what is written", () => {
  it("stands beside its place until it is whole: a disk that is full leaves the old file as it was", () => {
    const old = "an old file";
    writeFileSync(at("kept.obj"), old);
    // a limit on the length of files stands for a disk without room: writing ends in the middle
    const { status, stderr } = spawnSync(
      "bash",
      [
        "-c",
        `ulimit -f 4; trap '' XFSZ; exec "${process.execPath}" ` +
          `"${program}" pose "${at("limb.glb")}" --out "${at("kept.obj")}"`,
      ],
      { encoding: "utf8", env: { ...process.env, NODE_OPTIONS: "" } },
    );
    expect([status, stderr.trim().split("\n").length]).toEqual([2, 1]);
    expect(readFileSync(at("kept.obj"), "utf8")).toBe(old);
    expect(readdirSync(dir).filter((f) => f.includes(".part-"))).toEqual([]);
  });
  it("is known when a set was broken off, and is whole when it was not", async () => {
    expect((await run("convert", at("limb.glb"), at("set"))).code).toBe(0);
    expect(readdirSync(at("set"))).not.toContain("UNFINISHED");
    expect((await run("inspect", at("set"))).code).toBe(0);
    writeFileSync(path.join(at("set"), "UNFINISHED"), "");
    const { code, err } = await run("inspect", at("set"));
    expect(code).toBe(2);
    expect(err).toMatch(/not written to the end/);
  });
});

describe("motion", () => {
  const report = z.object({
    source: z.object({
      joints: z.number(),
      frames: z.number(),
      seconds: z.number(),
      unit: z.number(),
      rest: z.string(),
    }),
    map: z.array(z.object({ source: z.string(), humanoid: z.string().nullable(), target: z.string() })).min(10),
    unmapped: z.array(z.string()),
    leftOut: z.object({ scaleKeys: z.number(), translationKeys: z.number() }),
    loop: z.object({ from: z.number(), to: z.number(), degrees: z.number(), mm: z.number() }).nullable(),
    slide: z.object({ before: z.number(), after: z.number() }).nullable(),
    findings: z.array(findingSchema),
  });
  const bvh = (name: string): string => {
    const clip: Character["clips"][number] = {
      name,
      tracks: [
        {
          joint: "leftUpperArm",
          path: "rotation",
          interpolation: "LINEAR",
          times: Float32Array.of(0, 1),
          values: Float32Array.of(0, 0, 0, 1, 0, 0, 0.38268, 0.92388),
        },
      ],
    };
    writeFileSync(at(`${name}.bvh`), writeBvh(figureSkeleton(), clip, { unitsPerMetre: 100, fps: 30 }));
    return at(`${name}.bvh`);
  };
  const figure = async (): Promise<string> => {
    const skeleton = figureSkeleton();
    const box = boxPart("body", [0.2, 0.85, 0.2], [0, 0.85, 0]);
    const bound = { ...box, skin: rigidSkin(box.positions.length / 3, 0) };
    writeFileSync(at("figure.glb"), await writeGlb(characterWith({ skeleton, parts: [bound] })));
    return at("figure.glb");
  };
  it("retarget brings a clip onto the character and says what it found; the file holds it", async () => {
    const { code, out } = await run(
      "retarget",
      await figure(),
      "--clip",
      bvh("raise"),
      "--out",
      at("moved.glb"),
      "--json",
    );
    expect(code).toBe(0);
    const told = report.parse(JSON.parse(out));
    expect([told.source.frames, told.source.rest, told.unmapped]).toEqual([31, "file", []]);
    expect(told.source.unit).toBeCloseTo(0.01, 6);
    const { clips } = await readGlb(new Uint8Array(readFileSync(at("moved.glb"))), "moved.glb");
    expect(clips.map((c) => c.name)).toEqual(["raise"]);
    const again = await run("retarget", at("moved.glb"), "--clip", at("moved.glb"), "--out", at("moved.bvh"));
    expect(again.code).toBe(0);
    expect(readFileSync(at("moved.bvh"), "utf8")).toMatch(/^HIERARCHY/);
  });
  it.each([
    [["--rest", "B"], /"B" is not file, first, T or A=degrees/],
    [["--feet", "fly"], /"fly" is not hold or free/],
    [["--fps", "0"], /no number of frames a second/],
    [["--name", "nobody"], /no clip named nobody.*It holds raise/],
  ])("retarget refuses %j in one line", async (words, error) => {
    const { code, err } = await run(
      "retarget",
      await figure(),
      "--clip",
      bvh("raise"),
      "--out",
      at("no.glb"),
      ...words,
    );
    expect(code).toBe(2);
    expect(err).toMatch(error);
    expect(existsSync(at("no.glb"))).toBe(false);
  });
  it("inspect, check and convert know files that hold clips alone", async () => {
    const seen = await run("inspect", bvh("alone"), "--json");
    expect(seen.code).toBe(0);
    const told = JSON.parse(seen.out) as {
      format: string;
      clips: { name: string }[];
      joints: unknown[];
      parts: unknown[];
    };
    expect([told.format, told.clips.map((c) => c.name), told.parts]).toEqual(["bvh", ["alone"], []]);
    expect((await run("check", at("alone.bvh"))).code).toBe(0);
    expect((await run("convert", at("alone.bvh"), at("alone.glb"))).code).toBe(0);
    expect(JSON.parse((await run("inspect", at("alone.glb"), "--json")).out).clips).toHaveLength(1);
    expect((await run("convert", at("alone.glb"), at("again.bvh"))).code).toBe(0);
    expect(readFileSync(at("again.bvh"), "utf8")).toMatch(/Frames: 31/);
  });
  it("watch and compare say what is asked for when it is not there", async () => {
    const none = await run("watch", await figure());
    expect([none.code, none.err]).toEqual([2, expect.stringMatching(/holds no clip to watch.*retarget/)]);
    writeFileSync(at("bad.trial.json"), JSON.stringify({ name: "x", lanes: { body: [{ kind: "moon" }] } }));
    const bad = await run("watch", at("figure.glb"), "--trial", at("bad.trial.json"));
    expect(bad.code).toBe(2);
    expect(bad.err).toMatch(/The trial does not fit/);
    const same = await run("compare", at("figure.glb"), at("figure.glb"), "--json");
    expect(same.code).toBe(0);
    expect(JSON.parse(same.out).findings.counts.new).toBe(0);
  });
});
