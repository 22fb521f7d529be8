import { execFileSync } from "node:child_process";
import { mkdirSync, rmSync, statfsSync, writeFileSync } from "node:fs";
import path from "node:path";
import { newFolder, Running, acceptStep, smallGlb } from "./running";

export interface FullDiskReport {
  /** Why it could not be tried here, or null. */
  readonly left: string | null;
  readonly answers: readonly string[];
  readonly lost: number;
  readonly tooSmall: string;
  readonly serverDied: boolean;
}

const mount = (megabytes: number, on: string): void =>
  void execFileSync("mount", ["-t", "tmpfs", "-o", `size=${megabytes}m,mode=0755`, "tmpfs", on], { stdio: "ignore" });
const unmount = (on: string): void => {
  try {
    execFileSync("umount", ["-l", on], { stdio: "ignore" });
  } catch {
    // it was not mounted
  }
};

/**
 * A data folder on a small disk in memory: filled up while steps are sent, and emptied again. Needs the right to mount.
 */
export async function fillDisk(port: number, databaseUrlFor: NodeJS.ProcessEnv): Promise<FullDiskReport> {
  const folder = newFolder();
  const disk = path.join(folder.path, "disk");
  mkdirSync(disk);
  const nothing = { answers: [], lost: 0, tooSmall: "", serverDied: false };
  try {
    mount(20, disk);
  } catch {
    folder.clear();
    return { ...nothing, left: "this machine does not let a small disk be mounted" };
  }
  try {
    const small = new Running(port, { ...databaseUrlFor, YXOMORPH_DATA: path.join(disk, "data") });
    const code = await small.start();
    const tooSmall = `${code}: ${small.said.trim()}`;
    unmount(disk);
    mount(700, disk);
    const server = new Running(port, {
      ...databaseUrlFor,
      YXOMORPH_DATA: path.join(disk, "data"),
      YXOMORPH_DEMO: "off",
    });
    if ((await server.start()) !== null)
      return { ...nothing, left: `the server did not start: ${server.said.trim()}`, tooSmall };
    const found = await saveOnFull(server, disk);
    await server.end("SIGTERM");
    return { left: null, tooSmall, ...found };
  } finally {
    unmount(disk);
    folder.clear();
  }
}

/** Sends steps to a server whose disk is filled up meanwhile, until one is taken again. */
async function saveOnFull(
  server: Running,
  disk: string,
): Promise<Pick<FullDiskReport, "answers" | "lost" | "serverDied">> {
  const id = (await server.takeIn("limb.glb", await smallGlb()))!;
  let confirmed = 0;
  let revision = 0;
  const save = async (): Promise<string> => {
    const answer = await server.send(id, acceptStep(confirmed), revision, `full disk ${confirmed}`);
    if (answer?.status === 200) {
      confirmed++;
      revision = answer.body.revision;
    }
    return (
      `${answer?.status ?? "no answer"} ` +
      `${(answer?.body as { error?: { what: string } } | undefined)?.error?.what ?? ""}`
    ).trim();
  };
  const answers = [await save()];
  const filler = fillUp(disk);
  for (let i = 0; i < 3; i++) answers.push(await save());
  const serverDied = !server.alive;
  rmSync(filler);
  await server.untilUp();
  for (let i = 0; i < 40 && !answers.at(-1)!.startsWith("200"); i++) {
    answers.push(await save());
    await new Promise((r) => setTimeout(r, 500));
  }
  const kept = (await server.ask<{ steps: unknown[] }>(`/api/characters/${id}/state`))?.body.steps.length ?? 0;
  return { answers: [...new Set(answers)], lost: Math.max(0, confirmed - kept), serverDied };
}

/** Takes all room of a disk. @returns the file that holds it. */
function fillUp(disk: string): string {
  const filler = path.join(disk, "filler");
  const free = statfsSync(disk);
  const room = Math.max(0, free.bavail * free.bsize);
  writeFileSync(filler, "");
  const count = `count=${Math.ceil(room / 1048576) + 8}`;
  try {
    execFileSync("dd", ["if=/dev/zero", `of=${filler}`, "bs=1M", count], { stdio: "ignore" });
  } catch {
    // it ends when the disk is full
  }
  return filler;
}
