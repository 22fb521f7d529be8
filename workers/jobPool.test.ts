import type { CharacterPatch } from "../core/ledger/characterPatch";
import type { Character } from "../core/model/character";
import { REST_MOMENT } from "../core/evaluate/moment";
import { JobCancelled } from "../jobs/ticker";
import { shapeOf, tube } from "../tests/helpers/characters";
import { JobHost } from "./jobHost";
import { JobPool, type JobThread } from "./jobPool";

/** Threads that are none: everything else is as in a browser. */
function poolOf(size = 2): { pool: JobPool; sent: CharacterPatch[][]; runs: string[][] } {
  const sent: CharacterPatch[][] = [];
  const runs: string[][] = [];
  const start = (): JobThread => {
    const host = new JobHost(() => Promise.reject(new Error("none")));
    const [patches, names]: [CharacterPatch[], string[]] = [[], []];
    sent.push(patches);
    runs.push(names);
    return {
      load: (patch) => Promise.resolve((patches.push(patch), host.load(structuredClone(patch)))),
      run: (name, input, progress, token) => {
        names.push(name);
        return host.run(name, structuredClone(input), progress, token);
      },
      cancel: (token) => Promise.resolve(host.cancel(token)),
    };
  };
  return { pool: new JobPool(start, size), sent, runs };
}
const limb: Character = { ...tube(), jointMap: { lower: "leftLowerArm", upper: "leftUpperArm" } };
const bend = { ...REST_MOMENT, pose: { lower: [70, 0, 0] as const } };

describe("threads for jobs", () => {
  it("are sent a character once, and then only what changed", async () => {
    const { pool, sent } = poolOf();
    const input = { joint: "lower", moment: bend, sketch: null };
    const before = await pool.ask(limb, "measure joint", input);
    await pool.ask(limb, "measure joint", input);
    const bulge = shapeOf("bulge", { 400: [0.02, 0, 0] });
    const shaped: Character = { ...limb, shapes: [bulge] };
    await pool.ask(shaped, "measure joint", { ...input, moment: { ...bend, weights: { bulge: 1 } } });
    expect(sent[0]!.map((p) => Object.keys(p))).toEqual([expect.arrayContaining(["parts", "skeleton"]), ["shapes"]]);
    expect(before!.reading.stretch).toBeGreaterThan(1.05);
    expect(sent).toHaveLength(1);
  });
  it("keep the first for what must answer at once, and give long work to the one with least to do", async () => {
    const { pool, runs } = poolOf(3);
    const long = [1, 2].map(() => pool.run(limb, "shape readings", {}));
    await pool.ask(limb, "measure joint", { joint: "lower", moment: bend, sketch: null });
    await Promise.all(long);
    expect(runs.map((r) => r.join()).sort()).toEqual(["measure joint", "shape readings", "shape readings"]);
  });
  it("share items out and give the answers back in their order, with one share of progress", async () => {
    const { pool } = poolOf(3);
    const heard: number[] = [];
    const shared = await pool.share<"sweep", string, { rows: { angle: number }[] }>(
      limb,
      "sweep",
      ["lower/bend", "upper/raise", "upper/forward", "upper/twist"],
      (motions) => ({ motions: [...motions], steps: 5, method: "linear", profile: "realtime" }),
      { progress: (s) => heard.push(s) },
    );
    const alone = await pool.run(limb, "sweep", {
      motions: ["lower/bend", "upper/raise", "upper/forward", "upper/twist"],
      steps: 5,
      method: "linear",
      profile: "realtime",
    });
    expect(shared).toEqual(alone);
    expect(alone.length === 4 && alone[0]!.rows.length >= 5).toBe(true);
    expect(heard.at(-1)).toBe(1);
    expect([...heard].sort((a, b) => a - b)).toEqual(heard);
  });
  it("stop at the next step when a job is cancelled, and say nothing of it afterwards", async () => {
    const { pool } = poolOf();
    const control = new AbortController();
    const heard: number[] = [];
    const work = pool.run(
      limb,
      "sweep",
      { motions: ["lower/bend"], steps: 721, method: "linear", profile: "realtime" },
      { progress: (s) => (heard.push(s), control.abort()), signal: control.signal },
    );
    await expect(work).rejects.toBeInstanceOf(JobCancelled);
    expect(heard.length).toBeGreaterThan(0);
    expect(heard.at(-1)!).toBeLessThan(0.9);
    await expect(pool.run(limb, "shape readings", {}, { signal: control.signal })).rejects.toBeInstanceOf(JobCancelled);
  });
  it("tell what a job refuses as what it is", async () => {
    const { pool } = poolOf();
    const file = { name: "x.obj", bytes: new TextEncoder().encode("v 0 0 0\n") };
    await expect(pool.ask(limb, "return sculpt", { moment: bend, file })).rejects.toMatchObject({
      name: "UserError",
      where: "x.obj",
    });
    await expect(
      pool.run(limb, "sweep", { motions: ["none/bend"], steps: 5, method: "linear", profile: "film" }),
    ).rejects.toThrow("There is no motion named none/bend.");
  });
  it("let a job go on with the character it began with while the next one is loaded", async () => {
    const { pool } = poolOf();
    const first = pool.run(limb, "sweep", { motions: ["lower/bend"], steps: 9, method: "linear", profile: "realtime" });
    const other: Character = { ...limb, skeleton: null, parts: [] };
    await pool.run(other, "shape readings", {});
    expect((await first)[0]!.rows).toHaveLength(9);
  });
});
