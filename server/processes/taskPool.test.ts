import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { writeObj } from "../../core/formats/obj/writeObj";
import { tube } from "../../tests/helpers/characters";
import { Spool } from "./spool";
import { TaskCancelled, TaskPool, type RunningTask } from "./taskPool";

/** Tasks end before they reach a database here: files that are refused, or processes that are. */
const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-pool-"));
afterAll(() => rmSync(dir, { recursive: true, force: true }));
const pools: TaskPool[] = [];
const pool = (settings: Partial<ConstructorParameters<typeof TaskPool>[0]> = {}): TaskPool => {
  const made = new TaskPool({
    size: 2,
    memoryBytes: 2e9,
    timeMs: 60_000,
    env: { YXOMORPH_CHILD_DATABASE: "postgres://nobody:x@127.0.0.1:1/none" },
    ...settings,
  });
  pools.push(made);
  return made;
};
afterEach(() => pools.splice(0).forEach((p) => p.close()));
const file = (name: string, bytes: Uint8Array | string): { name: string; path: string } => {
  writeFileSync(path.join(dir, name), bytes);
  return { name, path: path.join(dir, name) };
};
const read = (
  on: TaskPool,
  name: string,
  bytes: Uint8Array | string,
  more: object = {},
): RunningTask<{ character: string }> => on.run("take in", { files: [file(name, bytes)] }, { title: name, ...more });
/** A file that takes some seconds to read and check. */
const slow = (): string => {
  const big = tube({ rings: 900, sides: 220 });
  return writeObj(big, [big.parts[0]!.positions]);
};

describe("tasks in processes of their own", () => {
  it("tell refusals in their own words, and use a process again", async () => {
    const p = pool();
    for (let i = 0; i < 3; i++)
      await expect(read(p, "cut.glb", new Uint8Array(40)).result).rejects.toMatchObject({
        where: "cut.glb",
        what: expect.stringMatching(/not a GLB/) as string,
      });
  });
  it("tell a database that is not there as such", async () => {
    await expect(read(pool(), "limb.glb", await writeGlb(tube({ rings: 5, sides: 6 }))).result).rejects.toMatchObject({
      status: 503,
      what: "The database does not answer.",
    });
  });
  it("are ended when they take too long or too much, with the name of the file, and the next one is read", async () => {
    const text = slow();
    const short = pool({ timeMs: 600, size: 1 });
    await expect(read(short, "slow.obj", text).result).rejects.toMatchObject({
      where: "slow.obj",
      what: expect.stringMatching(/longer than 1 seconds/) as string,
    });
    await expect(read(short, "cut.glb", new Uint8Array(40)).result).rejects.toMatchObject({
      what: expect.stringMatching(/not a GLB/) as string,
    });
    const small = pool({ memoryBytes: 1.5e8 });
    await expect(read(small, "large.obj", text).result).rejects.toMatchObject({
      where: "large.obj",
      what: expect.stringMatching(/more than 143 MB of memory/) as string,
    });
  });
  it(
    "wait for their turn, are told how many come before " + "them, run one at a time for a key, and can be cancelled",
    async () => {
      const text = slow();
      const p = pool({ size: 2 });
      const places: number[] = [];
      const first = read(p, "a.obj", text, { key: "one" });
      const second = read(p, "b.obj", text, { key: "one", place: (n: number) => places.push(n) });
      const third = read(p, "cut.glb", new Uint8Array(40));
      // another key goes past the one that waits
      await expect(third.result).rejects.toMatchObject({ what: expect.stringMatching(/not a GLB/) as string });
      expect(places.length).toBeGreaterThan(0);
      expect(places.every((n) => n > 0)).toBe(true);
      second.cancel();
      await expect(second.result).rejects.toBeInstanceOf(TaskCancelled);
      first.cancel();
      await expect(first.result).rejects.toBeInstanceOf(TaskCancelled);
    },
  );
  it("are all ended when the pool closes, and none begins after", async () => {
    const p = pool();
    const running = read(p, "c.obj", slow());
    p.close();
    await expect(running.result).rejects.toBeInstanceOf(TaskCancelled);
    await expect(read(p, "cut.glb", new Uint8Array(40)).result).rejects.toMatchObject({ status: 503 });
  });
});

describe("the spool", () => {
  it("gives folders of their own, and begins empty", () => {
    const root = path.join(dir, "spool");
    const spool = new Spool(root);
    const [a, b] = [spool.folder(), spool.folder()];
    expect(a.path).not.toBe(b.path);
    writeFileSync(path.join(a.path, "0"), "x");
    expect(new Spool(root).folder().path.startsWith(root)).toBe(true);
    expect(() => writeFileSync(path.join(a.path, "1"), "x")).toThrow();
  });
});
