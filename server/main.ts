import { randomBytes } from "node:crypto";
import path from "node:path";
import { fileURLToPath, pathToFileURL } from "node:url";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express from "express";
import pino from "pino";
import { apiRouter } from "./api";
import type { PageContext } from "./context";
import { connect } from "./db/connect";
import { JobBoard } from "./jobs/jobBoard";
import { startCluster } from "./postgres";
import { securityHeaders, sameSiteOnly, tokenGate } from "./security";
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

const app = express();
const jobs = new JobBoard(log);
const token = loopback ? null : (process.env["YXOMORPH_TOKEN"] ?? randomBytes(18).toString("base64url"));
app.disable("x-powered-by");
app.use(securityHeaders());
if (token) app.use(tokenGate(token));
app.use(sameSiteOnly());
app.use(compression());
app.use("/api", apiRouter(db, jobs, log, setting.uploadLimitMb * 1024 * 1024));
app.use("/assets", express.static(path.join(root, "build/client/assets"), { immutable: true, maxAge: "1y" }));
app.use(express.static(path.join(root, "build/client"), { maxAge: "1h" }));
const build = (await import(pathToFileURL(path.join(root, "build/server/index.js")).href)) as never;
app.use(createRequestHandler({ build, mode: "production", getLoadContext: (_request, response) => ({ db, nonce: response.locals["nonce"] as string, uploadLimitMb: setting.uploadLimitMb }) satisfies PageContext as never }));

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
