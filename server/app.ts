import { randomBytes } from "node:crypto";
import path from "node:path";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type Express } from "express";
import type { Logger } from "pino";
import type { ServerBuild } from "react-router";
import { apiRouter } from "./api";
import type { PageContext } from "./context";
import type { Db } from "./db/connect";
import { JobBoard } from "./jobs/jobBoard";
import { sameSiteOnly, securityHeaders, tokenGate } from "./security";

export interface AppSettings {
  readonly db: Db;
  readonly log: Logger;
  readonly uploadLimitMb: number;
  /** Asked of every visitor when the server is open to others; null on loopback. */
  readonly token: string | null;
  /** The built pages and the folder of their client files; null serves the data routes only. */
  readonly pages: { readonly build: ServerBuild; readonly clientDir: string } | null;
}

export const newToken = (): string => randomBytes(18).toString("base64url");

/** The whole server as an express application: security first, then data routes, files, pages. */
export function makeApp({ db, log, uploadLimitMb, token, pages }: AppSettings): Express {
  const app = express();
  app.disable("x-powered-by");
  app.use(securityHeaders());
  if (token) app.use(tokenGate(token));
  app.use(sameSiteOnly());
  app.use(compression());
  app.use("/api", apiRouter(db, new JobBoard(log), log, uploadLimitMb * 1024 * 1024));
  if (!pages) return app;
  app.use("/assets", express.static(path.join(pages.clientDir, "assets"), { immutable: true, maxAge: "1y" }));
  app.use(express.static(pages.clientDir, { maxAge: "1h" }));
  app.use(createRequestHandler({ build: pages.build, mode: "production", getLoadContext: (_request, response) => ({ db, nonce: response.locals["nonce"] as string, uploadLimitMb }) satisfies PageContext as never }));
  return app;
}
