import { loadOda } from "../demo/cast";
import { PROFILES } from "../core/checks/profile";
import { pairRows } from "../core/checks/pairs/readPairs";
import { decodeContainer, encodeContainer } from "../core/formats/container";
import { REST_MOMENT } from "../core/evaluate/moment";
import type { Character } from "../core/model/character";
import { shapeOf, tube } from "../tests/helpers/characters";
import { makeContext } from "./context";
import type { JobContext } from "./job";
import { JOBS, type JobInput, type JobName, type JobOutput } from "./jobs";
import { runJob } from "./runJob";

const limb: Character = { ...tube(), jointMap: { lower: "leftLowerArm", upper: "leftUpperArm" } };
/** Runs a job as another host would: its input comes as bytes, and so does what it gives. */
const farAway = async <N extends JobName>(name: N, context: JobContext, input: JobInput<N>): Promise<JobOutput<N>> => {
  const sent = decodeContainer(encodeContainer({ input })) as { input: JobInput<N> };
  const result = await runJob(name, context, sent.input);
  return (decodeContainer(encodeContainer({ result })) as { result: JobOutput<N> }).result;
};

describe("jobs", () => {
  it("have names that say what they do, and inputs that are read before anything is done", async () => {
    const names = Object.keys(JOBS) as JobName[];
    expect(names.length).toBeGreaterThan(20);
    expect(names.every((n) => /^[a-z ]+$/.test(n))).toBe(true);
    const context = makeContext(limb);
    await expect(runJob("none" as never, context, {} as never)).rejects.toThrow("There is no job named none.");
    await expect(runJob("walk", context, { method: "other" } as never)).rejects.toMatchObject({ where: "method" });
    await expect(runJob("faces", context, { mixes: [{ smile: "much" }] } as never)).rejects.toThrow(/a number/);
  });
  it("take a profile by its name or as somebody's own", async () => {
    const context = makeContext(limb);
    const input = { motions: ["lower/bend"], steps: 9, method: "linear" as const };
    const strict = { ...PROFILES.film, limits: { ...PROFILES.film.limits, "pose.stretch": 1.001 } };
    const [byName] = await runJob("sweep", context, { ...input, profile: "film" });
    const [own] = await runJob("sweep", context, { ...input, profile: strict });
    expect(own!.rows).toEqual(byName!.rows);
    expect(own!.findings.some((f) => f.check === "pose.stretch")).toBe(true);
    expect(byName!.findings.some((f) => f.check === "pose.stretch" && f.limit === 1.001)).toBe(false);
  });
  it("share the tables of a character, also over a change of its shapes", () => {
    const first = makeContext(limb);
    const gauge = first.gauge("lower")!;
    expect(first.gauge("lower")).toBe(gauge);
    const next = makeContext({ ...limb, shapes: [shapeOf("bulge", { 3: [0.01, 0, 0] })] }, first);
    expect(next.gauge("lower")!.finder).toBe(gauge.finder);
    expect(next.gauge("lower")!.rig.character.shapes).toHaveLength(1);
    // another skeleton has other joints
    expect(makeContext({ ...limb, skeleton: { ...limb.skeleton! } }, first).gauge("lower")!.finder).not.toBe(
      gauge.finder,
    );
  });
  it("measure a sketch on top of the character without changing it", async () => {
    const context = makeContext(limb);
    const count = limb.parts[0]!.positions.length / 3;
    const deltas = new Float32Array(3 * count);
    for (let v = 0; v < count; v++) deltas[3 * v] = (limb.parts[0]!.positions[3 * v]! / 0.05) * 0.02;
    const at = { joint: "lower", moment: { ...REST_MOMENT, pose: { lower: [60, 0, 0] as const } } };
    const bare = await farAway("measure joint", context, { ...at, sketch: null });
    const swollen = await farAway("measure joint", context, { ...at, sketch: { part: 0, deltas, weight: 1 } });
    expect(swollen!.reading.volume).toBeGreaterThan(bare!.reading.volume + 0.05);
    expect(await farAway("measure joint", context, { ...at, sketch: null })).toEqual(bare);
    expect(await farAway("measure joint", context, { ...at, joint: "nobody", sketch: null })).toBeNull();
  });
  it("carry shapes from a character that is named by what it is made of", async () => {
    const ref = { baseBlob: "a".repeat(64), steps: [] };
    const giver = { ...limb, name: "giver", shapes: [shapeOf("dent", { 300: [0.01, 0, 0] })] };
    const asked: unknown[] = [];
    const context = makeContext(limb, null, (given) => {
      asked.push(given);
      return Promise.resolve(giver);
    });
    const { shapes } = await farAway("transfer", context, { from: ref, shapes: ["dent"] });
    expect(asked).toEqual([ref]);
    expect(shapes.map((s) => s.name)).toEqual(["dent"]);
  });
});

describe("jobs on a whole figure give what they give beside it", () => {
  let oda: Character;
  let context: JobContext;
  beforeAll(async () => {
    oda = await loadOda();
    context = makeContext(oda);
  });
  it("pairs of shapes", async () => {
    const all = await pairRows({ ...oda, shapes: oda.shapes.slice(0, 12) }, PROFILES.realtime);
    const few = makeContext({ ...oda, shapes: oda.shapes.slice(0, 12) });
    const pairs = all.shapes.flatMap((a, i) => all.shapes.slice(i + 1).map((b): [string, string] => [a, b]));
    const rows = await farAway("pairs", few, { pairs, profile: "realtime" });
    expect(rows).toHaveLength(pairs.length);
    expect(rows.flat()).toHaveLength(all.rows.length);
  });
  it("where cloth and limbs go wrong over every motion", async () => {
    const walked = await farAway("walk", context, { method: "linear" });
    const cloth = await farAway("cloth", context, { steps: 3, method: "linear" });
    expect(cloth.length).toBeGreaterThan(0);
    expect(cloth.map((r) => r.depthMm)).toEqual(cloth.map((r) => r.depthMm).sort((a, b) => b - a));
    expect(walked.every((r) => r.longerMm > 0)).toBe(true);
  });
  it("a preview of a repair, with what would stand out of a part that is seated", async () => {
    const shirt = oda.parts.find((p) => p.kind === "garment")!.name;
    const seat = (mm: number): JobInput<"repair preview"> => ({
      repair: { what: "seat", part: shirt, moveMm: [0, 0, mm], turn: [0, 0, 0], scale: 1 },
    });
    const back = await farAway("repair preview", context, seat(-15));
    expect(back.outside!.count).toBeGreaterThan(back.outside!.now + 50);
    expect(back.face).toBeNull();
  });
});
