import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import path from "node:path";
import { expect, type Locator, type Page } from "@playwright/test";

export const PORT = Number(process.env["YXOMORPH_TEST_PORT"] ?? 4191);

/** Starts the built server on the tests' data folder; resolves when it says where it is. */
export function startApp(): Promise<{ pid: number; url: string }> {
  const child = spawn(process.execPath, ["--import", "tsx", "server/main.ts"], {
    detached: true,
    stdio: ["ignore", "pipe", "inherit"],
    env: {
      ...process.env,
      NODE_ENV: "production",
      NODE_OPTIONS: "",
      YXOMORPH_DATA: process.env["YXOMORPH_TEST_DATA"],
      YXOMORPH_PORT: String(PORT),
      YXOMORPH_MAX_UPLOAD_MB: "40",
      YXOMORPH_DB_WATCH_MS: "6000",
      YXOMORPH_TRACKER_PORT: "0",
    },
  });
  child.unref();
  return new Promise((resolve, reject) => {
    const late = setTimeout(() => reject(new Error("the server did not start within two minutes")), 120_000);
    child.stdout.on("data", (text: Buffer) => {
      if (!text.toString().includes("is at http")) return;
      clearTimeout(late);
      child.stdout.destroy();
      resolve({ pid: child.pid!, url: `http://127.0.0.1:${PORT}` });
    });
    child.once("exit", (code) => reject(new Error(`the server ended with ${code}`)));
  });
}

/** Stops the server as a user would and starts it again. */
export async function restartApp(): Promise<void> {
  process.kill(Number(process.env["YXOMORPH_TEST_PID"]), "SIGTERM");
  for (let i = 0; i < 100; i++) {
    try {
      process.kill(Number(process.env["YXOMORPH_TEST_PID"]), 0);
      await new Promise((r) => setTimeout(r, 100));
    } catch {
      break;
    }
  }
  process.env["YXOMORPH_TEST_PID"] = String((await startApp()).pid);
}

/**
 * Kills the database of the tests, and again whenever the server has started it anew, until it is let go.
 * @returns lets it come back.
 */
export function killDatabase(): () => void {
  const lock = path.join(process.env["YXOMORPH_TEST_DATA"]!, "postgres", "data", "postmaster.pid");
  const kill = (): void => {
    try {
      process.kill(Number(readFileSync(lock, "utf8").split("\n")[0]), "SIGQUIT");
    } catch {
      // it is down
    }
  };
  kill();
  const again = setInterval(kill, 20);
  return () => clearInterval(again);
}

/** Opens a station and waits until the stage has drawn the character. */
export async function openStation(page: Page, station: string, query = "", character = "oda"): Promise<void> {
  await page.goto(`/c/${character}/${station}${query}`);
  await expect(page.locator("html")).toHaveAttribute("data-stage", "drawn", { timeout: 40_000 });
  await expect(page.getByText("Fetching the character")).toHaveCount(0);
}

/** Chooses in a list that opens; it is opened again where the page was drawn anew under the pointer. */
export async function choose(page: Page, list: Locator, option: string): Promise<void> {
  const wanted = page.getByRole("option", { name: option, exact: true });
  await expect(async () => {
    if (!(await wanted.isVisible())) await list.getByRole("combobox").click({ timeout: 3000 });
    await wanted.click({ timeout: 3000 });
  }).toPass({ timeout: 30_000 });
}

/** Types a value into a number that is scrubbed. */
export async function typeNumber(page: Page, label: string | RegExp, value: string): Promise<void> {
  await page.getByRole("spinbutton", { name: label }).dblclick();
  await page.keyboard.press("Control+a");
  await page.keyboard.type(value);
  await page.keyboard.press("Enter");
}

/** Strokes over the stage: points in shares of its width and height. */
export async function stroke(
  page: Page,
  from: readonly [number, number],
  to: readonly [number, number],
): Promise<void> {
  const box = (await page.locator("section.stage canvas").boundingBox())!;
  const at = (p: readonly [number, number]): [number, number] => [box.x + p[0] * box.width, box.y + p[1] * box.height];
  await page.mouse.move(...at(from));
  await page.mouse.down();
  for (let i = 1; i <= 8; i++)
    await page.mouse.move(...at([from[0] + ((to[0] - from[0]) * i) / 8, from[1] + ((to[1] - from[1]) * i) / 8]));
  await page.mouse.up();
}

/** Number in a reading such as "volume -14.1 %". */
export async function readingOf(page: Page, word: string): Promise<number> {
  const text = await page
    .getByRole("group", { name: "Readings at this pose" })
    .getByText(new RegExp(`^${word}`))
    .innerText();
  return Number(/[-+]?[\d.]+/.exec(text)![0]);
}

/** Complaints of the page while a test runs; known harmless lines of the drawing library are left out. */
export function watchErrors(page: Page): string[] {
  const errors: string[] = [];
  page.on("pageerror", (e) => errors.push(e.message));
  page.on("console", (m) => {
    if (m.type() === "error" && !/THREE\.Clock|GPU stall|Failed to load resource/.test(m.text())) errors.push(m.text());
  });
  return errors;
}
