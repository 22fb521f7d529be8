import type { Locator } from "@playwright/test";
import { expect, test, type Page } from "./browserTest";
import { sayLine } from "../../voice/sayLine";
import { textGridOfLine } from "../../core/speech/writeLine";
import { openStation, watchErrors } from "./app";

const row = (page: Page, name: RegExp): Locator => page.getByTestId("sheet").getByRole("button", { name });
const openLines = async (page: Page, character = "oda"): Promise<void> => {
  await openStation(page, "trials", "?leaf=lines", character);
  await expect(page.getByLabel("What is said")).toBeVisible({ timeout: 30_000 });
};
const say = async (page: Page, text: string): Promise<void> => {
  await page.getByLabel("What is said").fill(text);
  await page.getByRole("button", { name: "Say it", exact: true }).click();
};

test("the demo's six lines stand ready: heard, each sound told as met or not, on Oda and on Wick", async ({ page }) => {
  const errors = watchErrors(page);
  for (const character of ["oda", "wick"]) {
    await openLines(page, character);
    await page.getByRole("combobox", { name: "Trial on the ruler" }).click();
    await page.getByRole("option", { name: "Six lines", exact: true }).first().click();
    await expect(page.getByRole("heading", { name: /^Lines: / })).toBeVisible({ timeout: 40_000 });
    await expect(row(page, /^The next boat leaves from pier five.*met/)).toBeVisible();
    // lips that are measured shut have closed rings on the lane
    await expect.poll(() => page.locator(".ruler-lanes .closure").count()).toBeGreaterThan(20);
    await expect(page.locator(".ruler-lanes .closure.missed")).toHaveCount(0);
  }
  await row(page, /^The next boat/).click();
  // what plays is heard: the page's sound runs in step with the clock
  await page.evaluate(() => {
    const started: number[] = [];
    const start = AudioBufferSourceNode.prototype.start;
    AudioBufferSourceNode.prototype.start = function (when?: number, offset?: number) {
      started.push(offset ?? 0);
      start.call(this, when, offset);
    };
    (window as unknown as { started: number[] }).started = started;
  });
  await page.getByRole("button", { name: "Play it over and over" }).click();
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { started: number[] }).started.length), { timeout: 20_000 })
    .toBeGreaterThan(0);
  await page.getByRole("button", { name: "Pause", exact: true }).click();
  expect(errors).toEqual([]);
});

test("a text is typed and spoken; a guessed word is told how it sounds; manner and phones are changed, and stay", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openLines(page);
  await say(page, "Mind the blorfs by the pier.");
  await expect(row(page, /^Mind the blorfs by the pier/).first()).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText(/^All \d+ that its sounds ask are met|that its sounds ask are not met/)).toBeVisible({
    timeout: 20_000,
  });
  // the word that no dictionary has
  await page.getByRole("button", { name: "blorfs", exact: true }).click();
  await expect(page.getByText("not in the dictionary")).toBeVisible();
  await page.getByLabel("How blorfs is said, ARPAbet").fill("b l q");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert")).toContainText('"Q" is no phone of ARPAbet');
  await page.getByLabel("How blorfs is said, ARPAbet").fill("b l uw1 m");
  await page.getByRole("button", { name: "Say it so", exact: true }).click();
  await expect(page.locator(".word-chip.guess")).toHaveCount(0, { timeout: 20_000 });
  await page.getByRole("button", { name: "All of them" }).click();
  const phones = page.getByRole("table", { name: "Phones" });
  await expect(phones.getByRole("row").filter({ hasText: "UW" })).toHaveCount(1);
  // a phone by hand, and the whole line slower: the change finds its phone again
  await phones.getByRole("combobox").nth(1).click();
  await page.getByRole("option", { name: "B", exact: true }).click();
  await expect(page.getByText(/phones, 1 changed by hand/)).toBeVisible();
  const pace = page.getByRole("spinbutton", { name: "Pace of this line" });
  await pace.focus();
  await page.keyboard.press("Enter");
  await page.getByRole("textbox", { name: "Pace of this line" }).fill("0.8");
  await page.keyboard.press("Enter");
  await expect(pace).toHaveText("0.80×");
  await expect(page.getByText(/phones, 1 changed by hand/)).toBeVisible();
  await expect(phones.getByRole("combobox").nth(1)).toHaveText("B");
  // a viseme by hand at the needle, and away again
  const weight = page.getByRole("spinbutton", { name: "Weight of the viseme at the needle" });
  await weight.focus();
  await page.keyboard.press("Enter");
  await page.getByRole("textbox", { name: "Weight of the viseme at the needle" }).fill("0.6");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: /^Take away what was added at/ }).click();
  await expect(page.getByRole("button", { name: /^Take away what was added at/ })).toHaveCount(0);
  // half the jaw, and undone
  const jaw = page.getByRole("spinbutton", { name: /^jaw, / });
  await jaw.focus();
  await page.keyboard.press("Enter");
  await page.getByRole("textbox", { name: /^jaw, / }).fill("0.5");
  await page.keyboard.press("Enter");
  await expect(jaw).toHaveText("0.50");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(jaw).toHaveText("1.00");
  // kept by itself, and there again
  await expect(page).toHaveURL(/trial=[0-9a-f-]{36}/);
  await page.waitForTimeout(1500);
  await page.reload();
  await row(page, /^Mind the blorfs by the pier/)
    .first()
    .click({ timeout: 30_000 });
  await expect(page.getByText(/phones, 1 changed by hand/)).toBeVisible();
  await page.getByRole("button", { name: "blorfs", exact: true }).click();
  await page.getByRole("button", { name: "As the dictionary has it" }).click();
  await expect(page.locator(".word-chip.guess")).toHaveCount(1, { timeout: 20_000 });
  await page.getByRole("button", { name: "Let it go" }).click();
  await expect(page.getByText("is let go")).toBeVisible();
  expect(errors).toEqual([]);
});

test("recordings, captions and phones come as files; what cannot be read says why, and the others are taken", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openLines(page);
  const { line, wav } = await sayLine("Welcome aboard the museum ferry", "tenor");
  const files = page.getByLabel("Files: Bring lines");
  const sound = { name: "take 3.wav", mimeType: "audio/wav", buffer: Buffer.from(wav) };
  await files.setInputFiles([sound]);
  await expect(page.getByText(/take 3.wav: Write above what it says/)).toBeVisible();
  await page.getByLabel("What is said").fill("Welcome aboard the museum ferry");
  await files.setInputFiles([
    sound,
    { name: "next.TextGrid", mimeType: "text/plain", buffer: Buffer.from(textGridOfLine(line)) },
    {
      name: "scene.vtt",
      mimeType: "text/vtt",
      buffer: Buffer.from("WEBVTT\n\n00:20.000 --> 00:22.000\nMind the gap.\n\n00:25.000 --> 00:26.000\nHigh water."),
    },
    { name: "bad.srt", mimeType: "text/plain", buffer: Buffer.from("no captions") },
  ]);
  await expect(page.getByText(/There are no captions in it/)).toBeVisible({ timeout: 40_000 });
  await expect(row(page, /^Welcome aboard the museum ferry/)).toBeVisible();
  await expect(row(page, /^next/)).toBeVisible();
  await expect(row(page, /^Mind the gap.*20\.0–/)).toBeVisible();
  await expect(row(page, /^High water.*25\.0–/)).toBeVisible();
  await row(page, /^Welcome aboard/).click();
  await expect(page.getByText("A recording.")).toBeVisible();
  await page.getByRole("button", { name: "Let it go" }).click();
  expect(errors).toEqual([]);
});

test("on a figure without visemes a line is heard, and what is missing leads to where it is made", async ({ page }) => {
  await openLines(page, "tarn");
  await say(page, "Mind the gap");
  await expect(page.getByText(/of its \d+ visemes are missing/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Make them" }).click();
  await expect(page).toHaveURL(/shapes\?.*leaf=coverage/);
});
