import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { chromium } from "@playwright/test";
import { startApp } from "../tests/e2e/app";
import { report } from "./sideBySide";

/** Time from navigation to the first drawn frame of the stage, in a headless browser on loopback. */
const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-bench-"));
chmodSync(dir, 0o755);
process.env["YXOMORPH_TEST_DATA"] = dir;
const app = await startApp();
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium-headless-shell",
  args: ["--no-sandbox", "--disable-quic", "--no-first-run"],
});
const times: number[] = [];
for (let i = 0; i < 5; i++) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  const start = performance.now();
  await page.goto(`${app.url}/c/oda/intake`);
  await page.waitForFunction(() => document.documentElement.dataset["stage"] === "drawn", undefined, {
    polling: "raf",
  });
  times.push(performance.now() - start);
  await page.context().close();
}

/** Time from navigation until the first picture of the proof is there, in a new browser and on a second visit. */
const pictures: Record<"new" | "again", number[]> = { new: [], again: [] };
let rate = "";
for (let i = 0; i < 5; i++) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  for (const visit of ["new", "again"] as const) {
    await page.goto(`${app.url}/c/oda/shapes`, { waitUntil: "commit" });
    const picture = page.locator(".thumb img").first();
    await picture.waitFor();
    const seen = picture.evaluate((img: HTMLImageElement) => img.decode().then(() => performance.now()));
    pictures[visit].push(await seen);
  }
  if (i === 4) {
    await page.waitForFunction(() => document.documentElement.dataset["stage"] === "drawn");
    await page.waitForTimeout(4000);
    const before = await page.locator(".thumb img").count();
    const start = performance.now();
    const saved = page.waitForEvent("download");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await saved;
    const drawn = (await page.locator(".thumb").count()) - before;
    rate = ((1000 * drawn) / (performance.now() - start)).toFixed(1);
  }
  await page.context().close();
}
await browser.close();
process.kill(app.pid, "SIGTERM");
await new Promise((r) => setTimeout(r, 2500));
rmSync(dir, { recursive: true, force: true });
times.sort((a, b) => a - b);
report(
  "first frame of the stage after navigation, cold browser",
  `${Math.round(times[2]!)} ms`,
  `of five: ${times.map((t) => Math.round(t)).join(", ")}`,
);
for (const visit of ["new", "again"] as const) {
  const [few, , middle] = [...pictures[visit]].sort((a, b) => a - b);
  report(
    `first picture of the proof after navigation, ${visit === "new" ? "cold browser" : "second visit"}`,
    `${Math.round(middle!)} ms`,
    `of five, best ${Math.round(few!)}`,
  );
}
report("pictures of the proof a second, one worker", rate);
