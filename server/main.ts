import { rmSync } from "node:fs";
import { createServer } from "node:http";
import { tmpdir } from "node:os";
import path from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import pino from "pino";
import type { ServerBuild } from "react-router";
import { makeApp, newToken, type App } from "./app";
import { takeFolder } from "./dataFolder";
import { connect, migrateTables } from "./db/connect";
import { machineTrouble } from "./db/trouble";
import { startCluster } from "./postgres";
import { seedCast } from "./seed";
import { startStandInThread } from "./tracking/standIn";
import { BadSetting, readSettings, type Settings } from "./settings";

const root = path.join(path.dirname(fileURLToPath(import.meta.url)), "..");
const say = (line: string): void => void process.stdout.write(`${line}\n`);
/** Longest time that an orderly end may take, ms. */
const STOP_MS = 12_000;

/** What has to be undone at the end, the latest first. Only what this process began is in it. */
const undo: (() => void | Promise<void>)[] = [];
let stopping = false;
async function stop(code: number): Promise<never> {
  if (!stopping) {
    stopping = true;
    setTimeout(() => process.exit(code || 1), STOP_MS).unref();
    for (const step of undo.reverse()) await Promise.resolve(step()).catch(() => {});
    process.exit(code);
  }
  return new Promise(() => {});
}
for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.on(signal, () => (stopping ? process.exit(1) : void stop(0)));

/** Takes the port before anything else is touched; until the application stands, it says so. */
function takePort({ host, port }: Settings): Promise<{ serve: (app: App) => void }> {
  const starting: Parameters<typeof createServer>[1] = (_request, response) =>
    void response
      .writeHead(503, { "Content-Type": "text/plain", "Retry-After": "2" })
      .end("Yxomorph is starting. Try again in a moment.\n");
  const server = createServer(starting);
  return new Promise((resolve, reject) => {
    server.once("error", (error: NodeJS.ErrnoException) =>
      reject(
        new BadSetting(
          `Cannot listen on ${host}:${port}: ` +
            `${error.code === "EADDRINUSE" ? "another program does" : error.message}. ` +
            "Set YXOMORPH_PORT to another port.",
        ),
      ),
    );
    server.listen(port, host, () => {
      const close = (): void => {
        server.close();
        server.closeAllConnections();
      };
      undo.push(close);
      resolve({
        serve: (app) => {
          server.removeAllListeners("request");
          server.on("request", app.handler);
          undo.push(close);
        },
      });
    });
  });
}

async function main(): Promise<void> {
  const settings = readSettings(process.env, root, process.getuid?.() === 0);
  const log = pino({ level: settings.log });
  const port = await takePort(settings);
  let { databaseUrl } = settings;
  let spoolFolder = path.join(tmpdir(), `yxomorph-${process.pid}`);
  if (databaseUrl === null) {
    const folder = takeFolder(settings.data);
    undo.push(folder.release);
    spoolFolder = path.join(settings.data, "incoming");
    const cluster = await startCluster(path.join(settings.data, "postgres"), settings.watchMs);
    undo.push(cluster.stop);
    databaseUrl = cluster.url;
  }
  await migrateTables(databaseUrl);
  const { db, close } = connect(databaseUrl);
  undo.push(close);
  await seedCast(db, say);
  const standIn = await startStandInThread(settings.trackerPort);
  if (standIn) undo.push(standIn.close);
  const token = settings.loopback ? null : (settings.token ?? newToken());
  const build = (await import(pathToFileURL(path.join(root, "build/server/index.js")).href)) as ServerBuild;
  const app = makeApp({
    db,
    databaseUrl,
    log,
    spoolFolder,
    token,
    hosts: settings.names,
    standIn: standIn?.address ?? null,
    uploadLimitMb: settings.uploadLimitMb,
    readMemoryMb: settings.readMemoryMb,
    readSeconds: settings.readSeconds,
    pages: { build, clientDir: path.join(root, "build/client") },
  });
  undo.push(() => rmSync(spoolFolder, { recursive: true, force: true }));
  undo.push(app.close);
  if (stopping) return;
  port.serve(app);
  say(
    `Yxomorph is at http://${settings.host.includes(":") ? `[${settings.host}]` : settings.host}:${settings.port}/${token ? `?token=${encodeURIComponent(token)}` : ""}`,
  );
  app.warm();
}

main().catch(async (error: unknown) => {
  if (stopping) return;
  const trouble = machineTrouble(error);
  process.stderr.write(
    error instanceof BadSetting
      ? `${error.message}\n`
      : trouble
        ? `${trouble.what} ${(error as Error).message}\n`
        : `Yxomorph could not start: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`,
  );
  await stop(error instanceof BadSetting ? 2 : 1);
});
