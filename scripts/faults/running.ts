import { spawn, type ChildProcess } from "node:child_process";
import { mkdtempSync, chmodSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { encodeContainer } from "../../core/formats/container";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { tube } from "../../tests/helpers/characters";

/** The built application as a user starts it, with a data folder of its own. */
export class Running {
  child: ChildProcess | null = null;
  said = "";
  constructor(
    readonly port: number,
    readonly env: NodeJS.ProcessEnv,
  ) {}
  get base(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** @returns when it says where it is, or has ended: then with its code. */
  start(): Promise<number | null> {
    this.said = "";
    const child = spawn(process.execPath, ["--import", "tsx", "server/main.ts"], {
      env: { ...process.env, NODE_ENV: "production", NODE_OPTIONS: "", YXOMORPH_PORT: String(this.port), ...this.env },
      stdio: ["ignore", "pipe", "pipe"],
    });
    this.child = child;
    return new Promise((resolve) => {
      const hear = (d: Buffer): void => {
        this.said += d.toString();
        if (/is at http/.test(this.said)) resolve(null);
      };
      child.stdout!.on("data", hear);
      child.stderr!.on("data", hear);
      child.on("exit", (code) => resolve(code ?? 1));
    });
  }
  get alive(): boolean {
    return this.child !== null && this.child.exitCode === null && this.child.signalCode === null;
  }
  /** @returns ms until it had ended. */
  async end(signal: NodeJS.Signals): Promise<number> {
    const since = Date.now();
    if (!this.child || !this.alive) return 0;
    const gone = new Promise((r) => this.child!.once("exit", r));
    this.child.kill(signal);
    await gone;
    return Date.now() - since;
  }

  async ask<T = never>(url: string, init: RequestInit = {}): Promise<{ status: number; body: T } | null> {
    try {
      const response = await fetch(this.base + url, { ...init, signal: AbortSignal.timeout(15_000) });
      return { status: response.status, body: (await response.json().catch(() => null)) as T };
    } catch {
      return null;
    }
  }
  send(
    id: string,
    step: unknown,
    revision: number,
    key: string,
  ): Promise<{ status: number; body: { revision: number } } | null> {
    return this.ask(`/api/characters/${id}/steps`, {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream" },
      body: encodeContainer({ step, revision, key, blobs: [] }),
    });
  }
  async takeIn(name: string, bytes: Uint8Array): Promise<string | null> {
    const form = new FormData();
    form.append("files", new Blob([bytes as never]), name);
    const sent = await this.ask<{ job?: string }>("/api/deliveries", { method: "POST", body: form });
    for (let i = 0; sent?.body?.job && i < 600; i++) {
      const view = await this.ask<{ state: string; result: { character: string } | null }>(
        `/api/jobs/${sent.body.job}`,
      );
      if (!view || view.status !== 200) return null;
      if (view.body.state !== "running") return view.body.result?.character ?? null;
      await new Promise((r) => setTimeout(r, 50));
    }
    return null;
  }
  async untilUp(ms = 30_000): Promise<boolean> {
    for (const end = Date.now() + ms; Date.now() < end; await new Promise((r) => setTimeout(r, 100)))
      if ((await this.ask("/api/characters"))?.status === 200) return true;
    return false;
  }
}

export const smallGlb = (): Promise<Uint8Array> => writeGlb({ ...tube({ rings: 5, sides: 6 }), name: "Limb" });
export const acceptStep = (n: number): unknown => ({
  op: "accept finding",
  check: "mesh.loose",
  part: null,
  joint: null,
  shape: null,
  reason: `number ${n}`,
});

/** A folder that postgres' own user can walk to. @param within a folder to make it in. */
export function newFolder(within = tmpdir()): { readonly path: string; readonly clear: () => void } {
  const made = mkdtempSync(path.join(within, "yxomorph-faults-"));
  chmodSync(made, 0o755);
  return { path: made, clear: () => rmSync(made, { recursive: true, force: true }) };
}
