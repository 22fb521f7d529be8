import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import type { Server } from "node:http";
import { tmpdir } from "node:os";
import path from "node:path";
import pino from "pino";
import { encodeContainer } from "../../core/formats/container";
import { makeApp, type App, type AppSettings } from "../../server/app";
import { connect, migrateTables, type Connection, type Db } from "../../server/db/connect";
import { startCluster, type Cluster } from "../../server/postgres";

export interface Answer<T = never> {
  readonly status: number;
  readonly body: T;
}
export interface JobEnd {
  readonly state: string;
  readonly result: Record<string, never>;
  readonly error: { readonly what: string; readonly where: string; readonly todo: string } | null;
}

/** A real PostgreSQL cluster in a folder of its own, and the real server without pages on a free port. */
export class RealServer {
  readonly dir = mkdtempSync(path.join(tmpdir(), "yxomorph-server-"));
  cluster!: Cluster;
  connection!: Connection;
  app!: App;
  server!: Server;
  base = "";
  get db(): Db {
    return this.connection.db;
  }

  /** What an application on this database is made with; each has a spool of its own. */
  settings(changes: Partial<AppSettings> = {}): AppSettings {
    return {
      db: this.db,
      databaseUrl: this.cluster.url,
      log: pino({ level: "silent" }),
      spoolFolder: path.join(this.dir, `spool ${changes.token ?? ""}`),
      uploadLimitMb: 4,
      token: null,
      pages: null,
      ...changes,
    };
  }
  /** Starts the cluster, again where it was stopped; on the same port where one is named. */
  async startDatabase(port?: number): Promise<void> {
    this.cluster = await startCluster(path.join(this.dir, "pg"), 500, port);
  }

  async start(changes: Partial<AppSettings> = {}): Promise<this> {
    chmodSync(this.dir, 0o755);
    await this.startDatabase();
    await migrateTables(this.cluster.url);
    this.connection = connect(this.cluster.url);
    this.app = makeApp(this.settings(changes));
    this.server = this.app.handler.listen(0, "127.0.0.1");
    await new Promise((r) => this.server.once("listening", r));
    this.base = `http://127.0.0.1:${(this.server.address() as { port: number }).port}`;
    return this;
  }

  async stop(): Promise<void> {
    this.server.close();
    this.server.closeAllConnections();
    this.app.close();
    await this.connection.close();
    await this.cluster.stop();
    rmSync(this.dir, { recursive: true, force: true });
  }

  async ask<T = never>(url: string, init: RequestInit = {}): Promise<Answer<T>> {
    const response = await fetch(this.base + url, init);
    return { status: response.status, body: (await response.json().catch(() => null)) as T };
  }
  post<T = never>(url: string, body: unknown): Promise<Answer<T>> {
    return this.ask(url, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(body),
    });
  }
  send<T = never>(
    id: string,
    step: unknown,
    revision: number,
    blobs: Uint8Array[] = [],
    key?: string,
    job?: string,
  ): Promise<Answer<T>> {
    return this.ask(`/api/characters/${id}/steps${job === undefined ? "" : `?job=${job}`}`, {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream" },
      body: encodeContainer({ step, revision, blobs, ...(key === undefined ? {} : { key }) }),
    });
  }
  async finish(job: string): Promise<JobEnd> {
    for (;;) {
      const { body } = await this.ask<JobEnd>(`/api/jobs/${job}`);
      if (body.state !== "running") return body;
      await new Promise((r) => setTimeout(r, 40));
    }
  }
  /** Posts files, and is answered with a job or a refusal. */
  postFiles(
    files: readonly (readonly [string, Uint8Array | string])[],
    url = "/api/deliveries",
  ): Promise<Answer<{ job?: string; error?: JobEnd["error"] }>> {
    const form = new FormData();
    for (const [name, content] of files) form.append("files", new Blob([content as never]), name);
    return this.ask(url, { method: "POST", body: form });
  }
  /** Posts files and waits for the end of the job. */
  async upload(files: readonly (readonly [string, Uint8Array | string])[], url?: string): Promise<JobEnd> {
    const { body } = await this.postFiles(files, url);
    return body.job ? this.finish(body.job) : { state: "refused", result: {}, error: body.error ?? null };
  }
  /** @returns the id of the character. */
  async takeIn(...files: [string, Uint8Array | string][]): Promise<string> {
    const end = await this.upload(files);
    if (end.error) throw new Error(end.error.what);
    return end.result["character"]!;
  }
}
