import path from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import pino from "pino";
import type { ServerBuild } from "react-router";
import { makeApp, newToken } from "./app";
import { connect } from "./db/connect";
import { startCluster } from "./postgres";
import { seedCast } from "./seed";

const root = path.join(path.dirname(fileURLToPath(import.meta.url)), "..");
const setting = {
  host: process.env["YXOMORPH_HOST"] ?? "127.0.0.1",
  port: Number(process.env["YXOMORPH_PORT"] ?? 4180),
  data: process.env["YXOMORPH_DATA"] ?? (process.getuid?.() === 0 ? "/var/lib/yxomorph" : path.join(root, ".data")),
  uploadLimitMb: Number(process.env["YXOMORPH_MAX_UPLOAD_MB"] ?? 256),
};
const log = pino({ level: process.env["YXOMORPH_LOG"] ?? "warn" });
const say = (line: string): void => void process.stdout.write(`${line}\n`);
const loopback = ["127.0.0.1", "::1", "localhost"].includes(setting.host);

const cluster = await startCluster(path.join(setting.data, "postgres"));
const { db, close } = await connect(cluster.url);
await seedCast(db, say);

const token = loopback ? null : (process.env["YXOMORPH_TOKEN"] ?? newToken());
const build = (await import(pathToFileURL(path.join(root, "build/server/index.js")).href)) as ServerBuild;
const app = makeApp({ db, log, uploadLimitMb: setting.uploadLimitMb, token, pages: { build, clientDir: path.join(root, "build/client") } });

const server = app.listen(setting.port, setting.host, (error?: Error) => {
  if (error) {
    process.stderr.write(`Cannot listen on ${setting.host}:${setting.port}: ${error.message}. Set YXOMORPH_PORT to another port.\n`);
    void cluster.stop().then(() => process.exit(1));
    return;
  }
  say(`Yxomorph is at http://${setting.host}:${setting.port}/${token ? `?token=${token}` : ""}`);
});

let stopping = false;
const stop = (): void => {
  if (stopping) return;
  stopping = true;
  server.close();
  server.closeAllConnections();
  void close().catch(() => {}).then(() => cluster.stop()).then(() => process.exit(0));
};
process.on("SIGINT", stop);
process.on("SIGTERM", stop);
