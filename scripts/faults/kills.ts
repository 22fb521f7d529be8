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
  const sender = new Sender(server, id, what, await stateOf(server, id));
  const before = sender.next;
  let notBack = 0;
  for (let round = 0; round < rounds; round++) {
    // three saves and an import are on their way when it is killed
    const importing = server.takeIn(`limb ${round}.glb`, glb);
    const killing = killSoon(server, data, what, 30 + 500 * random());
    for (let k = 0; k < 3; k++) await sender.save(`round ${round} step ${k} of ${what}`, killing);
    await killing;
    await importing;
    await startAgain(server, what);
    if (!(await server.untilUp())) notBack++;
  }
  const { steps } = await stateOf(server, id);
  const numbers = steps.slice(before).map((s) => Number(s.reason.split(" ")[1]));
  const wanted = Array.from({ length: sender.confirmed }, (_, i) => before + i);
  return {
    kills: rounds,
    confirmed: sender.confirmed,
    lost: wanted.filter((x) => !numbers.includes(x)).length,
    doubled: numbers.length - new Set(numbers).size,
    halfImports: await countHalf(server),
    serverDied: sender.serverDied,
    notBack,
  };
}

interface State {
  readonly revision: number;
  readonly baseBlob: string;
  readonly steps: readonly { readonly reason: string }[];
}
const stateOf = async (server: Running, id: string): Promise<State> =>
  (await server.ask<State>(`/api/characters/${id}/state`))!.body;

/** Sends numbered steps one after the other, each with its key until it is answered. */
class Sender {
  confirmed = 0;
  serverDied = 0;
  /** Number of the next step. */
  next: number;
  private revision: number;

  constructor(
    private readonly server: Running,
    private readonly id: string,
    private readonly what: "server" | "database",
    state: State,
  ) {
    this.next = state.steps.length;
    this.revision = state.revision;
  }

  async save(key: string, killing: Promise<void>): Promise<void> {
    for (let attempt = 0; attempt < 60; attempt++) {
      const answer = await this.server.send(this.id, acceptStep(this.next), this.revision, key);
      if (answer?.status === 200) {
        this.revision = answer.body.revision;
        this.confirmed++;
        this.next++;
        return;
      }
      await killing;
      if (!this.server.alive) {
        if (this.what === "database") this.serverDied++;
        await this.server.start();
      }
      await wait(150);
    }
  }
}

const wait = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

async function killSoon(server: Running, data: string, what: "server" | "database", ms: number): Promise<void> {
  await wait(ms);
  try {
    if (what === "server") server.child!.kill("SIGKILL");
    else process.kill(databasePid(data), "SIGKILL");
  } catch {
    // it is down
  }
}

/** The server started anew, once it is seen to be down. */
async function startAgain(server: Running, what: "server" | "database"): Promise<void> {
  if (what !== "server") return;
  for (let i = 0; server.alive && i < 50 && !(await server.ask("/api/characters")); i++) await wait(50);
  if (!server.alive) await server.start();
}

/** Characters that are listed and whose base is not there, or not what its hash says. */
async function countHalf(server: Running): Promise<number> {
  const { characters } = (await server.ask<{ characters: { id: string }[] }>("/api/characters"))!.body;
  let half = 0;
  for (const c of characters) {
    const state = await server.ask<State>(`/api/characters/${c.id}/state`);
    const blob = state && (await fetch(`${server.base}/api/blobs/${state.body.baseBlob}`));
    const bytes = blob?.ok ? Buffer.from(await blob.arrayBuffer()) : null;
    if (!bytes || createHash("sha256").update(bytes).digest("hex") !== state!.body.baseBlob) half++;
  }
  return half;
}
