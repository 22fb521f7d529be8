import { makeBombs } from "./bombs";
import { mutant } from "./mutate";
import { HANG_MS, makeMutants, readAll } from "./runMutants";
import { makeSeeds } from "./seeds";

/** More of the same, with kills, full disk and many clients: npm run faults. */
const MUTANTS = 2000;

describe("files that are wrong", () => {
  it("are none when nothing was changed: every seed but the clip of another skeleton is read", async () => {
    const seeds = await makeSeeds();
    const report = await readAll(seeds);
    expect(report.harms).toEqual([]);
    expect([report.read, report.refused]).toEqual([seeds.length - 1, 1]);
  });
  it(
    `do no harm when they are a little wrong: ${MUTANTS} ` +
      "mutants of every format are read or refused in plain words",
    async () => {
      const report = await readAll(await makeMutants(0, MUTANTS));
      expect(report.harms).toEqual([]);
      expect(report.read + report.refused).toBe(MUTANTS);
      // they are neither all harmless nor all hopeless
      expect(report.read).toBeGreaterThan(MUTANTS / 10);
      expect(report.refused).toBeGreaterThan(MUTANTS / 3);
      expect(report.slowestMs).toBeLessThan(HANG_MS);
    },
  );
  it("do no harm when they are made to: bombs are read or refused at once", async () => {
    const bombs = makeBombs((await makeSeeds())[0]!.bytes);
    expect(bombs.length).toBeGreaterThan(30);
    const report = await readAll(bombs);
    expect(report.harms).toEqual([]);
    expect(report.refused).toBeGreaterThan(20);
  });
  it("come out the same from the same number", async () => {
    const [seed] = await makeSeeds();
    expect(mutant(7, seed!.name, seed!.bytes)).toEqual(mutant(7, seed!.name, seed!.bytes));
    expect(mutant(7, seed!.name, seed!.bytes)).not.toEqual(mutant(8, seed!.name, seed!.bytes));
  });
});
