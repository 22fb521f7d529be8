import { spawn } from "node:child_process";
import { chmodSync, cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { eq } from "drizzle-orm";
import { tube } from "../tests/helpers/characters";
import { connect, migrateTables } from "./db/connect";
import { settings } from "./db/schema";
import { postmasterOf, startCluster } from "./postgres";
import { seedCast } from "./seed";
import { deleteCharacter, listCast } from "./services/characters";
import { machineTrouble } from "./db/trouble";

/** Starts that ended anywhere, second starts, and databases that go away in the middle. */
const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-start-"));
chmodSync(dir, 0o755);
const root = path.join(dir, "pg");
afterAll(() => rmSync(dir, { recursive: true, force: true }));

describe("a cluster", () => {
  it("half made by a start that was killed is made anew, and nothing is left of it", async () => {
    // what initdb leaves behind when it is killed early: the version, no more
    mkdirSync(path.join(root, "data"), { recursive: true });
    mkdirSync(path.join(root, "making-abc"), { recursive: true });
    writeFileSync(path.join(root, "data", "PG_VERSION"), "15\n");
    writeFileSync(path.join(root, "password"), "of nothing");
    const cluster = await startCluster(root);
    await migrateTables(cluster.url);
    await cluster.stop();
    expect(readdirSync(root).sort()).toEqual(["data", "password"]);
  });
  it("whose password file is gone is not thrown away", async () => {
    rmSync(path.join(root, "password.kept"), { force: true });
    cpSync(path.join(root, "password"), path.join(root, "password.kept"));
    rmSync(path.join(root, "password"));
    await expect(startCluster(root)).rejects.toThrow(/password file is gone/);
    expect(existsSync(path.join(root, "data", "PG_VERSION"))).toBe(true);
    cpSync(path.join(root, "password.kept"), path.join(root, "password"));
  });
  it("that runs is adopted, and told from one that runs elsewhere under a copied lock", async () => {
    const cluster = await startCluster(root);
    const running = postmasterOf(path.join(root, "data"))!;
    const again = await startCluster(root);
    expect(again.url).toBe(cluster.url);
    const copy = path.join(dir, "copy");
    mkdirSync(copy);
    cpSync(path.join(root, "data", "postmaster.pid"), path.join(copy, "postmaster.pid"));
    expect(postmasterOf(copy)).toBeNull();
    expect(postmasterOf(path.join(root, "data"))).toEqual(running);
    await again.stop();
    expect(postmasterOf(path.join(root, "data"))).toBeNull();
    await cluster.stop();
  });
});

describe("the demo cast", () => {
  const members = ["one", "two", "three"].map((id) => ({ id, role: "a limb" }));
  const load = (id: string) => Promise.resolve({ ...tube({ rings: 5, sides: 6 }), name: id });
  it(
    "that was interrupted is completed by the next start, " + "and what is deleted from the whole one stays deleted",
    async () => {
      const cluster = await startCluster(root);
      await migrateTables(cluster.url);
      const { db, close } = connect(cluster.url);
      await expect(
        seedCast(
          db,
          () => {},
          members,
          (id) => (id === "two" ? Promise.reject(new Error("killed")) : load(id)) as never,
        ),
      ).rejects.toThrow("killed");
      const names = async (): Promise<string[]> => (await listCast(db)).map((c) => c.id).sort();
      expect(await names()).toEqual(["one"]);
      await seedCast(db, () => {}, members, load as never);
      expect(await names()).toEqual(["one", "three", "two"]);
      await deleteCharacter(db, "two");
      await seedCast(db, () => {}, members, load as never);
      expect(await names()).toEqual(["one", "three"]);
      // a database of before this was remembered, with characters in it
      await db.delete(settings).where(eq(settings.key, "demo cast"));
      await seedCast(db, () => {}, members, load as never);
      expect(await names()).toEqual(["one", "three"]);
      await close();
      await cluster.stop();
    },
  );
});

describe("a database that is killed", () => {
  it(
    "in the middle of queries ends none of the processes " + "that ask, and is told as such; the pool ends in time",
    async () => {
      const cluster = await startCluster(root, 60_000);
      // a process of its own, so that an error nobody listens to would end it
      const script = `
      import { connect } from "./server/db/connect.ts";
      import { machineTrouble } from "./server/db/trouble.ts";
      import { sql } from "drizzle-orm";
      const { db, close } = connect(process.env.URL);
      const told = new Set();
      const one = (q) => db.execute(q).then(() => told.add("answered"), (e) => told.add(machineTrouble(e)?.what ?? String(e)));
      const all = [1, 2, 3, 4].map(() => one(sql\`select pg_sleep(5)\`));
      const held = db.transaction(async (tx) => { await tx.execute(sql\`select 1\`); process.stdout.write("ready\\n"); await new Promise((r) => setTimeout(r, 2500)); await tx.execute(sql\`select 1\`); }).catch((e) => told.add(machineTrouble(e)?.what ?? String(e)));
      await Promise.all([...all, held]);
      await one(sql\`select 1\`);
      const t = Date.now();
      await close();
      process.stdout.write(JSON.stringify({ told: [...told], ms: Date.now() - t }) + "\\n");
    `;
      const file = path.join(process.cwd(), `.${path.basename(dir)}.mts`);
      writeFileSync(file, script);
      const child = spawn(process.execPath, ["--import", "tsx", file], {
        cwd: process.cwd(),
        env: { ...process.env, URL: cluster.url, NODE_OPTIONS: "" },
        stdio: ["ignore", "pipe", "inherit"],
      });
      let out = "";
      const ended = new Promise<number | null>((r) => child.on("exit", r));
      await new Promise<void>((r) =>
        child.stdout.on("data", (d: Buffer) => {
          out += d.toString();
          if (out.includes("ready")) r();
        }),
      );
      await new Promise((r) => setTimeout(r, 300));
      process.kill(postmasterOf(path.join(root, "data"))!.pid, "SIGKILL");
      expect(await ended).toBe(0);
      rmSync(file);
      const { told, ms } = JSON.parse(out.trim().split("\n").at(-1)!) as { told: string[]; ms: number };
      expect(told).toEqual(["The database does not answer."]);
      expect(ms).toBeLessThan(3500);
      await cluster.stop();
    },
  );
});

describe("troubles of the machine", () => {
  it.each<[object, RegExp | null]>([
    [{ code: "53100" }, /disk of the server is full/],
    [{ code: "ENOSPC" }, /disk of the server is full/],
    [{ message: 'could not extend file "base/1": No space left on device' }, /disk of the server is full/],
    [{ message: "x", cause: { code: "57P01" } }, /does not answer/],
    [{ message: "Client has encountered a connection error and is not queryable" }, /does not answer/],
    [{ message: "Connection terminated unexpectedly" }, /does not answer/],
    [{ code: "53300" }, /busy/],
    [{ code: "23505" }, null],
    [{ message: "a bug" }, null],
  ])("are told in their own words: %j", (error, told) => {
    const trouble = machineTrouble(error);
    if (told) expect(trouble?.what).toMatch(told);
    else expect(trouble).toBeNull();
  });
});
