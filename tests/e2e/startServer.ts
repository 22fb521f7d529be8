import { mkdtempSync, chmodSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { startApp } from "./app";

/** Starts the application once for all browser tests, on an empty data folder, and ends it with them. */
export default async function startServer(): Promise<() => Promise<void>> {
  const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-e2e-"));
  chmodSync(dir, 0o755);
  process.env["YXOMORPH_TEST_DATA"] = dir;
  const app = await startApp();
  process.env["YXOMORPH_TEST_PID"] = String(app.pid);
  return async () => {
    const pid = Number(process.env["YXOMORPH_TEST_PID"]);
    try {
      process.kill(pid, "SIGTERM");
    } catch {
      // a test has ended it
    }
    await new Promise((r) => setTimeout(r, 2000));
    rmSync(dir, { recursive: true, force: true });
  };
}
