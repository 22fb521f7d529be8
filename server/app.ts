import { randomBytes } from "node:crypto";
import path from "node:path";
import { createRequestHandler } from "@react-router/express";
import { fewerBytes } from "./fewerBytes";
import express, { type Express } from "express";
import type { Logger } from "pino";
import type { ServerBuild } from "react-router";
import { apiRouter } from "./api/api";
import { BlobCollector } from "./blobs/collectBlobs";
import { Voices } from "./speech/voices";
import type { PageContext } from "./context";
import { readEarlyWorkers } from "./earlyWorkers";
import type { Db } from "./db/connect";
import { JobBoard } from "./jobs/jobBoard";
import { knownHostsOnly, sameSiteOnly, securityHeaders, tokenGate } from "./security";
import { Spool } from "./processes/spool";
import { TaskPool } from "./processes/taskPool";
import { TrackerBridge } from "./tracking/bridge";

export interface AppSettings {
  readonly db: Db;
  /** Where child processes reach the same database. */
  readonly databaseUrl: string;
  readonly log: Logger;
  /** Folder for files on their way; what is in it is deleted. */
  readonly spoolFolder: string;
  readonly uploadLimitMb: number;
  /** Memory and time that a delivery may take to be read. */
  readonly readMemoryMb?: number;
  readonly readSeconds?: number;
  /** Asked of every visitor when the server is open to others; null on loopback. */
  readonly token: string | null;
  /** Names by which the server may be asked for, beside those of loopback. */
  readonly hosts?: readonly string[];
  /** Where the tracker's stand-in is; null where none runs. */
  readonly standIn?: string | null;
  /** The built pages and the folder of their client files; null serves the data routes only. */
  readonly pages: { readonly build: ServerBuild; readonly clientDir: string } | null;
}
export interface App {
  readonly handler: Express;
  /** Starts what the first step would else wait for. */
  readonly warm: () => void;
  /** Ends all child processes. */
  readonly close: () => void;
}

export const newToken = (): string => randomBytes(18).toString("base64url");
const MB = 1024 * 1024;

/** The whole server as an express application: security first, then data routes, files, pages. */
export function makeApp({
  db,
  databaseUrl,
  log,
  spoolFolder,
  uploadLimitMb,
  readMemoryMb = 3000,
  readSeconds = 300,
  token,
  hosts = [],
  standIn = null,
  pages,
}: AppSettings): App {
  const pools = makePools(databaseUrl, readMemoryMb, readSeconds);
  const collector = new BlobCollector(db, (err) => log.warn({ err }, "dead geometry was not collected"));
  const voices = new Voices();
  const bridge = new TrackerBridge(db, standIn);
  bridge.load().catch((err: unknown) => log.warn({ err }, "the tracker's address was not read"));
  const app = express();
  app.disable("x-powered-by");
  app.use(knownHostsOnly(hosts));
  app.use(securityHeaders(() => bridge.origins));
  if (token) app.use(tokenGate(token));
  app.use(sameSiteOnly());
  app.use(fewerBytes());
  app.use(
    "/api",
    apiRouter({
      db,
      log,
      jobs: new JobBoard(log),
      ...pools,
      voices,
      bridge,
      spool: new Spool(spoolFolder),
      collector,
      uploadLimitBytes: uploadLimitMb * MB,
    }),
  );
  if (pages) servePages(app, pages, { db, uploadLimitMb });
  collector.ask();
  return {
    handler: app,
    warm: () => {
      pools.steps.warm();
      voices.warm();
    },
    close: () => {
      collector.stop();
      voices.close();
      for (const p of Object.values(pools)) p.close();
    },
  };
}

/** Child processes by what they do. */
function makePools(databaseUrl: string, memoryMb: number, readSeconds: number) {
  const env = { YXOMORPH_CHILD_DATABASE: databaseUrl };
  const pool = (size: number, seconds: number): TaskPool =>
    new TaskPool({ size, memoryBytes: memoryMb * MB, timeMs: 1000 * seconds, env });
  return {
    reading: pool(2, readSeconds),
    steps: pool(2, 120),
    writing: pool(1, 600),
    checking: pool(1, 300),
    working: pool(2, 1800),
  };
}

/** The built pages and the files they fetch. */
function servePages(
  app: Express,
  { build, clientDir }: NonNullable<AppSettings["pages"]>,
  of: Pick<PageContext, "db" | "uploadLimitMb">,
): void {
  const earlyWorkers = readEarlyWorkers(clientDir);
  app.use("/assets", express.static(path.join(clientDir, "assets"), { immutable: true, maxAge: "1y" }));
  app.use(express.static(clientDir, { maxAge: "1h" }));
  app.use(
    createRequestHandler({
      build,
      mode: "production",
      getLoadContext: (_request, response) =>
        ({ ...of, nonce: response.locals["nonce"] as string, earlyWorkers }) satisfies PageContext as never,
    }),
  );
}
