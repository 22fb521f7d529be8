import type { Locator } from "@playwright/test";
import { takeCsv, TAKES } from "../../demo/takes/takes";
import { startStandIn } from "../../demo/takes/trackerStandIn";
import { expect, test, type Page } from "./browserTest";
import { openStation, watchErrors } from "./app";

const openFace = async (page: Page, character = "oda"): Promise<void> => {
  await openStation(page, "trials", "?leaf=face", character);
  await expect(page.getByRole("button", { name: "Connect", exact: true })).toBeEnabled({ timeout: 30_000 });
};
const tracker = (page: Page): Locator => page.getByRole("group", { name: "Tracker" });
const takeRow = (page: Page, name: RegExp): Locator => page.getByTestId("sheet").getByRole("button", { name });
const csvOf = (name: string): { name: string; mimeType: string; buffer: Buffer } => ({
  name: `${name}.csv`,
  mimeType: "text/csv",
  buffer: Buffer.from(takeCsv(TAKES.find((t) => t.hello.take === name)!)),
});

test("one click shows a live face; another take in other words is mapped, its sides exchanged, and recorded", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openFace(page);
  await page.getByRole("button", { name: "Connect", exact: true }).click();
  await expect(tracker(page)).toContainText("Slackwater tracker stand-in: live", { timeout: 15_000 });
  await expect(page.getByRole("heading", { name: "15 channels" })).toBeVisible();
  await page.getByRole("combobox", { name: "Take that the tracker plays" }).click();
  await page.getByRole("option", { name: "pier rounds", exact: true }).click();
  await expect(page.getByRole("heading", { name: "14 channels" })).toBeVisible({ timeout: 15_000 });
  await expect(takeRow(page, /^L smile AU12_left/)).toBeVisible();
  // what is planted in it is told, with what to do
  await expect(page.getByText(/left and right are exchanged/)).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "Exchange left and right" }).first().click();
  await expect(takeRow(page, /^L smile AU12_right/)).toBeVisible();
  await page.keyboard.press("u");
  await expect(takeRow(page, /^L smile AU12_left/)).toBeVisible();
  // a captured neutral is taken off the channel that is stuck
  await page.getByRole("button", { name: "neutral", exact: true }).click();
  await expect(page.getByText(/neutral: taken off all channels/)).toBeVisible({ timeout: 15_000 });
  await takeRow(page, /^chin raise/).click();
  await expect(page.getByRole("spinbutton", { name: "neutral of chin raise" })).toContainText(/0\.9|1\.0/);
  // recorded while the body plays
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(page.getByRole("button", { name: /^Stop at [1-9]/ })).toBeVisible({ timeout: 15_000 });
  await expect
    .poll(async () => /^[1-9]/.test(await page.locator(".mono", { hasText: " of " }).first().innerText()))
    .toBe(true);
  await page.getByRole("button", { name: /^Stop at/ }).click();
  await expect(page.getByRole("heading", { name: "Takes on the ruler" })).toBeVisible({ timeout: 30_000 });
  await expect(page.locator(".ruler-lanes .used")).toBeVisible();
  // fewer keys with a wider tolerance
  const keys = async (): Promise<number> =>
    Number(/(\d+) keys/.exec(await takeRow(page, /^pier rounds/).innerText())![1]);
  const before = await keys();
  const tolerance = page.getByRole("spinbutton", { name: "tolerance of the keys" });
  await tolerance.dblclick();
  await page.keyboard.press("Control+a");
  await page.keyboard.type("0.03");
  await page.keyboard.press("Enter");
  await expect.poll(keys, { timeout: 20_000 }).toBeLessThan(before);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Weights, CSV" }).click(),
  ]);
  expect(download.suggestedFilename()).toBe("pier rounds.csv");
  expect(errors).toEqual([]);
});

test("a take is brought as a file, its map kept and used on another character; what is none is refused", async ({
  page,
}) => {
  await openFace(page, "oda");
  const bring = page.getByLabel("Files: Bring takes");
  await bring.setInputFiles([
    { name: "odd.csv", mimeType: "text/csv", buffer: Buffer.from("seconds,remark\n0,hello\n1,you\n") },
  ]);
  await expect(page.getByText(/odd\.csv: None of its columns is a channel with numbers/)).toBeVisible({
    timeout: 20_000,
  });
  await bring.setInputFiles([csvOf("pier rounds")]);
  await expect(page.getByRole("heading", { name: "14 channels" })).toBeVisible({ timeout: 20_000 });
  await takeRow(page, /^blown cheeks/).click();
  await page.getByRole("button", { name: "Take it off", exact: true }).click();
  await expect(takeRow(page, /^blown cheeks moves nothing/)).toBeVisible();
  await page.getByRole("button", { name: "Keep this map" }).click();
  await page.keyboard.press("Control+a");
  await page.keyboard.type("harbour words");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("combobox", { name: "Map of the channels" })).toContainText("harbour words", {
    timeout: 15_000,
  });
  await expect(page).toHaveURL(/trial=[0-9a-f-]{36}/);
  const trial = new URL(page.url()).searchParams.get("trial")!;
  // the same trial, by its address, on another character: it plays there
  await openStation(page, "trials", `?leaf=face&trial=${trial}`, "wick");
  await takeRow(page, /^pier rounds/).click();
  await expect(takeRow(page, /^L smile AU12_left/)).toBeVisible({ timeout: 20_000 });
  await expect(page.locator(".ruler-lanes .used")).toBeVisible();
  await page.getByRole("combobox", { name: "Map of the channels" }).click();
  await page.getByRole("option", { name: "harbour words", exact: true }).click();
  await expect(takeRow(page, /^blown cheeks moves nothing/)).toBeVisible();
});

test("a tracker that goes away is asked for again; two pages are served at once; another address can be named", async ({
  page,
  request,
  profile,
}) => {
  test.setTimeout(240_000);
  let bridge = await startStandIn({});
  const address = `ws://127.0.0.1:${bridge.port}`;
  await openFace(page);
  await page.getByRole("button", { name: "Another tracker" }).click();
  await page.getByLabel("Address of the tracker").fill("nowhere");
  await page.getByRole("button", { name: "Use it" }).click();
  await expect(page.getByText(/"nowhere" is no address of a tracker/)).toBeVisible();
  await page.getByLabel("Address of the tracker").fill(address);
  await page.getByRole("button", { name: "Use it" }).click();
  await expect(page.getByText(`Tracker at ${address}`)).toBeVisible({ timeout: 40_000 });
  const other = await profile.newPage();
  try {
    await openFace(other, "wick");
    for (const each of [page, other]) {
      await expect(each.getByRole("button", { name: "Connect", exact: true })).toBeEnabled({ timeout: 30_000 });
      await each.getByRole("button", { name: "Connect", exact: true }).click();
      await expect(tracker(each)).toContainText("stand-in: live", { timeout: 20_000 });
    }
    const { port } = bridge;
    await bridge.close();
    await expect(tracker(page)).toContainText("gone, asked again every second", { timeout: 20_000 });
    bridge = await startStandIn({ port });
    for (const each of [page, other]) await expect(tracker(each)).toContainText("stand-in: live", { timeout: 20_000 });
  } finally {
    await other.close();
    await bridge.close();
    await request.put("/api/tracking/bridge", { data: { address: null } });
  }
});
