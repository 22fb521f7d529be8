import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import { makeBombs } from "../../tests/faults/bombs";
import { HANG_MS, makeMutants, readAll, type MutantReport } from "../../tests/faults/runMutants";
import { makeSeeds } from "../../tests/faults/seeds";
import { manyClients } from "./clients";
import { fillDisk } from "./fullDisk";
import { killInMidSave } from "./kills";
import { newFolder, Running, smallGlb } from "./running";

/** npm run faults [-- mutants=10000 from=0 kills=12 clients=50 only=files,kills,servers,disk,clients,blob]: what is promised when something breaks, tried. Ends with 1 when it is not kept. */
const given = Object.fromEntries(process.argv.slice(2).map((a) => a.split("=") as [string, string]));
const number = (name: string, usual: number): number => (/^\d+$/.test(given[name] ?? "") ? Number(given[name]) : usual);
const only = given["only"]?.split(",");
const wanted = (name: string): boolean => !only || only.includes(name);
const rows: { what: string; seen: string; kept: boolean }[] = [];
const row = (what: string, seen: string, kept: boolean): void => {
  rows.push({ what, seen, kept });
  process.stdout.write(`${kept ? "kept  " : "BROKEN"}  ${what.padEnd(46)} ${seen}\n`);
};
const files = (what: string, r: MutantReport): void => {
  row(
    what,
    `${r.count} files: ${r.read} read, ${r.refused} refused, ${r.harms.length} harmful, slowest ${(r.slowestMs / 1000).toFixed(1)} s of ${HANG_MS / 1000}`,
    r.harms.length === 0,
  );
  for (const h of r.harms.slice(0, 20))
    process.stdout.write(
      `          ${h.what} at ${h.number}, ${h.file}: ${h.told.split("\n").slice(0, 2).join(" ").slice(0, 200)}\n`,
    );
};

/** Address of the database that a server keeps in its data folder. */
function databaseOf(dataFolder: string): string {
  const port = readFileSync(path.join(dataFolder, "postgres", "data", "postmaster.pid"), "utf8").split("\n")[3];
  return `postgres://yxomorph:${readFileSync(path.join(dataFolder, "postgres", "password"), "utf8")}@127.0.0.1:${port}/yxomorph`;
}

if (wanted("files")) {
  files("mutants of every format", await readAll(await makeMutants(number("from", 0), number("mutants", 10_000))));
  files("hand-made bombs", await readAll(makeBombs((await makeSeeds())[0]!.bytes)));
}
const folder = newFolder();
const data = path.join(folder.path, "data");
const port = number("port", 4196);
const env = { YXOMORPH_DATA: data, YXOMORPH_DB_WATCH_MS: "500" };
try {
  const glb = await smallGlb();
  if (wanted("kills") || wanted("servers") || wanted("clients") || wanted("blob")) {
    const server = new Running(port, env);
    // a start that is killed again and again is completed in the end
    let starts = 0;
    for (const ms of wanted("kills") ? [400, 900, 1500, 2500, 4000, 7000] : []) {
      const starting = server.start();
      await new Promise((r) => setTimeout(r, ms));
      await server.end("SIGKILL");
      await starting;
      starts++;
    }
    const code = await server.start();
    const cast =
      (await server.ask<{ characters: { id: string }[] }>("/api/characters"))?.body.characters.map((c) => c.id) ?? [];
    row(
      "starts killed after 0.4 to 7 s, then one to the end",
      `${starts} kills, ${code === null ? "started" : `ended with ${code}: ${server.said.trim()}`}, ${cast.length} characters of the cast`,
      code === null && cast.length === 5,
    );
    const id = (await server.takeIn("limb.glb", glb))!;
    if (wanted("kills"))
      for (const what of ["server", "database"] as const) {
        const r = await killInMidSave(server, data, id, number("kills", 12), glb, what);
        row(
          `${what} killed in mid-save`,
          `${r.kills} kills, ${r.confirmed} steps confirmed, ${r.lost} lost, ${r.doubled} doubled, ${r.halfImports} half imports, server died ${r.serverDied}, not back ${r.notBack}`,
          r.lost + r.doubled + r.halfImports + r.serverDied + r.notBack === 0 && r.confirmed === 3 * r.kills,
        );
      }
    if (wanted("servers")) {
      const samePort = new Running(port, { ...env, YXOMORPH_DATA: path.join(folder.path, "other") });
      const sameFolder = new Running(port + 1, env);
      const codes = [await samePort.start(), await sameFolder.start()];
      const up = await server.untilUp(5000);
      row(
        "a second server on the same port, and folder",
        `ended with ${codes.join(" and ")}, the first ${up ? "serves on" : "WAS STOPPED"}; "${sameFolder.said.trim().slice(0, 90)}"`,
        codes.every((c) => c === 2) &&
          up &&
          /Another server/.test(sameFolder.said) &&
          /another program/.test(samePort.said),
      );
    }
    if (wanted("servers")) {
      // a server on a database that is there already starts nothing, and its end ends nothing
      const guest = new Running(port + 1, { DATABASE_URL: databaseOf(data) });
      const code = await guest.start();
      const made = code === null ? await guest.takeIn("limb.glb", glb) : null;
      const both = made !== null && (await server.ask(`/api/characters/${made}/state`))?.status === 200;
      const races = await Promise.all(
        [server, guest].map((s, i) =>
          s.send(
            made ?? "",
            { op: "accept finding", check: "x", part: null, joint: null, shape: null, reason: "one of two" },
            0,
            `race of server ${i}`,
          ),
        ),
      );
      await guest.end("SIGTERM");
      const up = await server.untilUp(3000);
      row(
        "two servers on one database",
        `${code === null ? "started" : `ended with ${code}`}, ${both ? "both see" : "NOT BOTH SEE"} the character, two saves at once: ${races
          .map((r) => r?.status)
          .sort()
          .join(" and ")}, the first ${up ? "serves on" : "WAS STOPPED"}`,
        code === null &&
          both &&
          up &&
          races
            .map((r) => r?.status)
            .sort()
            .join() === "200,409",
      );
    }
    if (wanted("clients")) {
      const r = await manyClients(server, ["oda", "tarn", "wick"], id, number("clients", 50), 5);
      row(
        `${r.clients} clients at once`,
        `${r.pages} pages, median ${Math.round(r.medianMs)} ms, 95 % under ${Math.round(r.p95Ms)} ms, ${r.failed} failed; ${r.confirmed} steps confirmed, ${r.inLedger} in the ledger, ${r.conflicts} conflicts told`,
        r.failed === 0 && r.confirmed === r.inLedger && r.medianMs < 400,
      );
    }
    if (wanted("blob")) {
      const took = JSON.parse(
        execFileSync(process.execPath, ["--import", "tsx", "scripts/faults/largeBlob.mts", databaseOf(data), "400"], {
          encoding: "utf8",
        }),
      ) as { same: boolean; moreMb: number; writeS: number; readS: number };
      row(
        "400 MB of geometry stored and read",
        `${took.moreMb} MB of memory more, ${took.writeS.toFixed(1)} s to write, ${took.readS.toFixed(1)} s to read`,
        took.same && took.moreMb < 150,
      );
    }
    const ms = await server.end("SIGTERM");
    row("SIGTERM", `ended after ${(ms / 1000).toFixed(1)} s`, ms < 12_000 && !server.alive);
  }
  if (wanted("disk")) {
    const r = await fillDisk(port + 2, {});
    if (r.left) process.stdout.write(`left out  a full disk: ${r.left}\n`);
    else {
      row(
        "a data disk that is too small",
        r.tooSmall.slice(0, 140),
        /^2: .*MB free/.test(r.tooSmall) && !r.tooSmall.includes("\n"),
      );
      row(
        "a disk that fills up while steps are sent",
        `answers ${r.answers.join(" | ")}; ${r.lost} lost, server ${r.serverDied ? "died" : "lives"}`,
        r.lost === 0 &&
          !r.serverDied &&
          r.answers.every((a) => /^(200|503|409)/.test(a)) &&
          r.answers.some((a) => a.startsWith("503")),
      );
    }
  }
} finally {
  folder.clear();
}
if (given["report"]) writeFileSync(given["report"], JSON.stringify(rows, null, 1));
const broken = rows.filter((r) => !r.kept).length;
process.stdout.write(`${rows.length - broken} promises kept, ${broken} broken\n`);
process.exit(broken ? 1 : 0);
