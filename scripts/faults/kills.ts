import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import path from "node:path";
import { randomFrom } from "../../core/math/random";
import { acceptStep, type Running } from "./running";

export interface KillReport {
  readonly kills: number;
  readonly confirmed: number;
  readonly lost: number;
  readonly doubled: number;
  readonly halfImports: number;
  readonly serverDied: number;
  readonly notBack: number;
}

const databasePid = (data: string): number =>
  Number(readFileSync(path.join(data, "postgres", "data", "postmaster.pid"), "utf8").split("\n")[0]);

/**
 * Steps are sent one after the other, each again with its key until it is answered, while the server or its database
 * is killed at random moments.
 * Afterwards every confirmed step must be in the ledger once, and every character that is listed must be whole.
 */
export async function killInMidSave(
  server: Running,
  data: string,
  id: string,
  rounds: number,
  glb: Uint8Array,
  what: "server" | "database",
): Promise<KillReport> {
  const random = randomFrom(rounds + (what === "server" ? 1 : 2));
  let [confirmed, serverDied, notBack] = [0, 0, 0];
  let revision = (await server.ask<{ revision: number }>(`/api/characters/${id}/state`))!.body.revision;
  const before = (await server.ask<{ steps: unknown[] }>(`/api/characters/${id}/state`))!.body.steps.length;
  let n = before;
  for (let round = 0; round < rounds; round++) {
    // three saves and an import are on their way when it is killed
    const importing = server.takeIn(`limb ${round}.glb`, glb);
    const killAt = 30 + 500 * random();
    const killing = new Promise<void>((r) =>
      setTimeout(() => {
        try {
          if (what === "server") server.child!.kill("SIGKILL");
          else process.kill(databasePid(data), "SIGKILL");
        } catch {
          // it is down
        }
        r();
      }, killAt),
    );
    for (let k = 0; k < 3; k++) {
      const key = `round ${round} step ${k} of ${what}`;
      for (let attempt = 0; attempt < 60; attempt++) {
        const answer = await server.send(id, acceptStep(n), revision, key);
        if (answer?.status === 200) {
          revision = answer.body.revision;
          confirmed++;
          n++;
          break;
        }
        await killing;
        if (what === "server" && !server.alive) await server.start();
        else if (what === "database" && !server.alive) {
          serverDied++;
          await server.start();
        }
        await new Promise((r) => setTimeout(r, 150));
      }
    }
    await killing;
    await importing;
    for (let i = 0; what === "server" && server.alive && i < 50 && !(await server.ask("/api/characters")); i++)
      await new Promise((r) => setTimeout(r, 50));
    if (what === "server" && !server.alive) await server.start();
    if (!(await server.untilUp())) notBack++;
  }
  const { body } = (await server.ask<{ steps: { reason: string }[] }>(`/api/characters/${id}/state`))!;
  const numbers = body.steps.slice(before).map((s) => Number(s.reason.split(" ")[1]));
  const wanted = Array.from({ length: confirmed }, (_, i) => before + i);
  const { characters } = (await server.ask<{ characters: { id: string }[] }>("/api/characters"))!.body;
  let halfImports = 0;
  for (const c of characters) {
    const state = await server.ask<{ baseBlob: string }>(`/api/characters/${c.id}/state`);
    const blob = state && (await fetch(`${server.base}/api/blobs/${state.body.baseBlob}`));
    const bytes = blob?.ok ? Buffer.from(await blob.arrayBuffer()) : null;
    if (!bytes || createHash("sha256").update(bytes).digest("hex") !== state!.body.baseBlob) halfImports++;
  }
  return {
    kills: rounds,
    confirmed,
    lost: wanted.filter((x) => !numbers.includes(x)).length,
    doubled: numbers.length - new Set(numbers).size,
    halfImports,
    serverDied,
    notBack,
  };
}
