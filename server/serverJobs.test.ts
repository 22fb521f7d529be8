import { loadOda } from "../demo/cast";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { decodeContainer, encodeContainer } from "../core/formats/container";
import type { JobInput, JobName, JobOutput } from "../jobs/jobs";
import { RealServer, type JobEnd } from "../tests/helpers/realServer";
import { readLedger } from "./services/ledger";

const real = new RealServer();
let id = "";
let state = "";
beforeAll(async () => {
  await real.start({ uploadLimitMb: 64 });
  const oda = await loadOda();
  // skin and one garment are enough
  const kept = [oda.parts.findIndex((p) => p.kind === "body"), oda.parts.findIndex((p) => p.kind === "garment")];
  const figure = {
    ...oda,
    name: "Brak",
    parts: kept.map((p) => oda.parts[p]!),
    shapes: oda.shapes
      .slice(0, 6)
      .map((s) => ({
        ...s,
        deltas: s.deltas.flatMap((d) => (kept.includes(d.part) ? [{ ...d, part: kept.indexOf(d.part) }] : [])),
      })),
  };
  id = await real.takeIn(["Brak.glb", await writeGlb(figure)]);
  state = (await readLedger(real.db, id))!.state;
});
afterAll(() => real.stop());

const start = <N extends JobName>(job: N, input: JobInput<N>, at = state): Promise<string> =>
  real
    .ask<{ job: string }>(`/api/characters/${id}/jobs`, {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream" },
      body: encodeContainer({ state: at, job, input }),
    })
    .then(({ body }) => body.job);
const result = async <N extends JobName>(job: N, input: JobInput<N>): Promise<JobOutput<N>> => {
  const running = await start(job, input);
  const end = await real.finish(running);
  expect([end.state, end.error]).toEqual(["done", null]);
  const bytes = new Uint8Array(await (await fetch(`${real.base}/api/jobs/${running}/result`)).arrayBuffer());
  return (decodeContainer(bytes) as { result: JobOutput<N> }).result;
};
const refused = async (job: Promise<string>): Promise<JobEnd["error"]> => (await real.finish(await job)).error;

describe("long work on a character, run by the server", () => {
  it("reads pairs, cloth and the walk, and carries shapes over", async () => {
    const { body } = await real.ask<{ baseBlob: string; steps: [] }>(`/api/characters/${id}/state`);
    const [readings, walk, cloth, carried] = await Promise.all([
      result("shape readings", {}),
      result("walk", { method: "linear" }),
      result("cloth", { steps: 3, method: "dual" }),
      result("transfer", { from: { baseBlob: body.baseBlob, steps: body.steps }, shapes: [] }),
    ]);
    expect(readings).toHaveLength(6);
    expect(cloth.length).toBeGreaterThan(0);
    expect(walk.every((r) => r.joint !== "")).toBe(true);
    expect(carried.shapes).toEqual([]);
    const pair: [string, string] = [readings[0]!.shape, readings[1]!.shape];
    expect(await result("pairs", { pairs: [pair], profile: "realtime" })).toHaveLength(1);
  });
  it("is refused in words, and for a state that is not the character's any more", async () => {
    expect((await refused(start("walk", { method: "linear" }, "another")))!.what).toMatch(/Another window/);
    expect((await refused(start("sweep", { motions: [], steps: 5, method: "linear" } as never)))!.where).toBe(
      "profile",
    );
    expect((await refused(start("none" as never, {} as never)))!.what).toMatch(/does not fit/);
    expect((await fetch(`${real.base}/api/jobs/none/result`)).status).toBe(404);
  });
  it("can be cancelled, and then has no result", async () => {
    const job = await start("search mixes", { seed: 1, count: 100_000, profile: "realtime" });
    await real.ask(`/api/jobs/${job}`, { method: "DELETE" });
    expect((await real.finish(job)).state).toBe("cancelled");
    expect((await fetch(`${real.base}/api/jobs/${job}/result`)).status).toBe(404);
  });
});
