import { readFileSync } from "node:fs";
import type { Locator } from "@playwright/test";
import { expect, test, type Page } from "./browserTest";
import { loadMember } from "../../demo/cast";
import { foreignClip } from "../../demo/clips/foreignClip";
import { alignLine, LINES } from "../../demo/lines/lines";
import { writeTextGrid } from "../../core/formats/textgrid/writeTextGrid";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { openStation, watchErrors } from "./app";

const ruler = (page: Page): Locator => page.locator(".ruler-lanes");
const typed = async (page: Page, label: string, value: string): Promise<void> => {
  const field = page.getByRole("spinbutton", { name: label, exact: true });
  await field.focus();
  await page.keyboard.press("Enter");
  const input = page.getByRole("textbox", { name: label, exact: true });
  await input.fill(value);
  await input.press("Enter");
};
/** Takes pieces off the ruler by key. */
const takeOff = async (page: Page, ...names: readonly string[]): Promise<void> => {
  for (const name of names) {
    await page.getByRole("button", { name: new RegExp(`^${name}, from`) }).focus();
    await page.keyboard.press("Delete");
  }
};
/** Goes to whole seconds by the keys of the ruler. */
const goTo = async (page: Page, seconds: number): Promise<void> => {
  await ruler(page).focus();
  await page.keyboard.press("Home");
  for (let i = 0; i < seconds * 3; i++) await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByText(`${seconds.toFixed(2)} of`)).toBeVisible();
};

test("clips of three kinds are dropped at once onto a figure without any, taken with one click, and play", async ({
  page,
}) => {
  const errors = watchErrors(page);
  const oda = await loadMember("oda");
  const foreign = foreignClip(
    oda,
    oda.clips.find((c) => c.name === "wave")!,
  );
  await openStation(page, "trials", "?leaf=clips", "tarn");
  await expect(page.getByText("No clip yet")).toBeVisible({ timeout: 30_000 });
  await page.getByLabel("Files: Add parts or clips").setInputFiles([
    // CMU motion capture, 31 joints, 2 752 frames at 120 a second (Debian assimp-testmodels)
    { name: "01_01.bvh", mimeType: "text/plain", buffer: readFileSync("/usr/share/assimp/models/BVH/01_01.bvh") },
    { name: "wave.glb", mimeType: "model/gltf-binary", buffer: Buffer.from(await writeGlb(foreign)) },
    {
      name: "broken.bvh",
      mimeType: "text/plain",
      buffer: Buffer.from("HIERARCHY\nROOT hips\n{\nOFFSET 0 0 0\nCHANNELS 1 Wrotation\n}\nMOTION\n"),
    },
  ]);
  const brought = page.getByRole("table", { name: "What the files bring" });
  await expect(brought).toContainText("120 frames a second, kept at 60", { timeout: 60_000 });
  await expect(brought.getByRole("row").filter({ hasText: "wave.glb" })).toContainText(/joints move this character/);
  await expect(page.getByRole("alert")).toContainText('"Wrotation" is not a channel');
  await page.getByRole("button", { name: "Add 2 of 2" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: "01_01, from 0.00 s, 22.92 s long" })).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await expect(page.getByText(/drawn at \d+/)).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Pause", exact: true }).click();
  await expect(page.getByText(/^0\.00 of/)).toBeHidden();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("No clip yet")).toBeVisible({ timeout: 30_000 });
  expect(errors).toEqual([]);
});

test("a clip is fitted by hand with its readings beside, kept as a step, and undone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=clips&open=walk");
  const stands = page.getByRole("status", { name: "How walk stands" });
  // the demo's walk was made without a floor: its soles go under it, and say so
  await expect(stands).toContainText(/sole under floor\s*8\d mm/, { timeout: 30_000 });
  await page.getByLabel("soles on the floor").check();
  await page.getByLabel("feet stay").check();
  await expect(stands).toContainText(/slide, on the spot\s*0\.0\d m\/s/);
  await expect(stands).toContainText(/sole under floor\s*0 mm/);
  const before = await stands.innerText();
  await typed(page, "arms away, walk", "25");
  await expect(stands).not.toHaveText(before);
  await page.getByRole("button", { name: "Keep the fit" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole("button", { name: /^walk · fitted/ })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  await expect(page.getByRole("spinbutton", { name: "arms away, walk" })).toHaveText("0°");
  expect(errors).toEqual([]);
});

test("a performance is keyed from nothing; a smile left on while lips pucker is a moment; the trial is kept", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=clips");
  await expect(ruler(page)).toBeVisible({ timeout: 30_000 });
  // off with the clips: the performance stands by itself
  await takeOff(page, "idle sway", "walk", "reach overhead", "wave", "point at the tide board", "look round");
  await page.getByRole("button", { name: "Begin keys" }).click();
  const shape = async (name: string, weight: string): Promise<void> => {
    const known = page.getByRole("spinbutton", { name: `Weight of ${name}`, exact: true });
    if (!(await known.isVisible())) await page.getByPlaceholder("Find a shape to key").fill(name);
    await typed(page, `Weight of ${name}`, weight);
  };
  await typed(page, "hips up", "0");
  await shape("AU12_left", "0");
  await shape("AU12_right", "0");
  await shape("AU18", "0");
  await goTo(page, 1);
  // a step down with both feet held: the legs bend to let them stay
  await page.getByLabel("left foot", { exact: true }).check();
  await page.getByLabel("right foot", { exact: true }).check();
  await typed(page, "hips up", "-90");
  await shape("AU12_left", "1");
  await shape("AU12_right", "1");
  await goTo(page, 2);
  await shape("AU18", "1");
  await goTo(page, 1);
  await expect(page.getByRole("spinbutton", { name: "hips up" })).toHaveText("-90 mm");
  await page.getByRole("combobox", { name: "Joint that is keyed" }).click();
  await page.getByRole("option", { name: /^left lower leg/ }).click();
  // thigh and shank are bent by what the hips came down
  await expect(page.getByRole("spinbutton", { name: /Knee|lower leg.*degrees/i }).first()).not.toHaveText("0°");
  // its face moves: the lane shows it, and says which shape is strongest
  await expect(ruler(page)).toContainText("AU12_");
  await page.getByRole("button", { name: "Watch every frame" }).click();
  await expect(page.getByRole("button", { name: "Watch again" })).toBeVisible({ timeout: 80_000 });
  const moment = page.getByRole("button", { name: /AU18/ }).first();
  await moment.click();
  await expect(page.getByRole("button", { name: "Answer this pair" })).toBeVisible();
  await expect(page).toHaveURL(/trial=[0-9a-f-]{36}/);
  await page.reload();
  await expect(page.getByRole("button", { name: /^keys, from 0.00 s, 4.00 s long/ })).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Let it go" }).click();
  await expect(page.getByRole("button", { name: /^walk, from/ })).toBeVisible();
  expect(errors).toEqual([]);
});

test("what a moment shows is corrected on the spot: that joint and angle are open under Correctives", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=clips");
  await expect(ruler(page)).toBeVisible({ timeout: 30_000 });
  // two of the clips show it: every frame is measured twice here
  await takeOff(page, "idle sway", "walk", "point at the tide board", "look round");
  await page.getByRole("button", { name: "Watch every frame" }).click();
  const bent = page.getByRole("button", { name: /right lower arm: (skin in skin|turned inside out)/ }).first();
  // the first frames that are in may show another moment than the worst: all of them are waited for
  await expect(page.getByRole("button", { name: "Watch again" })).toBeVisible({ timeout: 80_000 });
  await bent.click();
  await page.getByRole("button", { name: "Correct this pose" }).click();
  await expect(page).toHaveURL(/correctives.*rightLowerArm/);
  await expect(page).toHaveURL(/pose=rightLowerArm/);
  await page.getByRole("button", { name: "Propose a sculpt" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 40_000 });
  // back at the trial it is measured anew, and that moment is gone
  await page.getByRole("button", { name: "Back to the trial" }).click();
  await expect(page.getByRole("button", { name: "Watch again" })).toBeVisible({ timeout: 80_000 });
  await expect(page.getByRole("button", { name: /left upper arm: volume lost/ }).first()).toBeVisible();
  await expect(bent).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  await page.getByRole("button", { name: "Let it go" }).click();
  await expect(page.getByRole("button", { name: "Take it back" })).toBeVisible();
  expect(errors).toEqual([]);
});

test("another character stands beside on one clock, its clips brought over; a trial is compared with its own", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=clips");
  await expect(ruler(page)).toBeVisible({ timeout: 30_000 });
  await takeOff(page, "idle sway", "walk", "reach overhead", "point at the tide board", "look round");
  await page.getByRole("combobox", { name: "What the trial is compared with" }).click();
  await page.getByRole("option", { name: /^Tarn, / }).click();
  const stage = page.getByLabel("Stage");
  await expect(stage.getByText("Tarn", { exact: true })).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Compare", exact: true }).click();
  await expect(page.getByRole("button", { name: "Compare again" })).toBeVisible({ timeout: 80_000 });
  await page.getByRole("button", { name: "Watch every frame" }).click();
  const table = page.getByRole("table", { name: "Before and after" });
  await expect(table).toBeVisible({ timeout: 80_000 });
  await expect(table.getByRole("columnheader", { name: "Tarn" })).toBeVisible();
  // both wave: the arm that is bent is told on both, with a number in each column
  await expect(
    table
      .getByRole("row")
      .filter({ hasText: "right lower arm" })
      .filter({ hasText: /\d.*\d/ })
      .first(),
  ).toBeVisible();
  await page.getByRole("button", { name: "Let it go" }).click();
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(page.getByRole("button", { name: "Let it go" })).toBeVisible();
  await page.getByRole("button", { name: "Let it go" }).click();
  await expect(page.getByRole("button", { name: "Take it back" })).toBeVisible();
  expect(errors).toEqual([]);
});

test("a line with its phones is spoken: lips that shut are told, and its weights play in the face lane", async ({
  page,
}) => {
  const errors = watchErrors(page);
  const { words, phones } = alignLine(LINES.find((l) => l.id === "next-boat")!);
  const grid = writeTextGrid([
    { name: "words", intervals: words },
    { name: "phones", intervals: phones },
  ]);
  await openStation(page, "trials", "?leaf=clips");
  await page.getByLabel("Files: Add parts or clips").setInputFiles([
    { name: "next-boat.TextGrid", mimeType: "text/plain", buffer: Buffer.from(grid) },
    { name: "other.TextGrid", mimeType: "text/plain", buffer: Buffer.from(grid.replace('"B"', '"bh"')) },
  ]);
  const brought = page.getByRole("table", { name: "What the files bring" });
  await expect(brought).toContainText(/The next boat leaves from pier five; 24 phones; (\d+) of \1 demands met/, {
    timeout: 60_000,
  });
  await expect(page.getByRole("alert")).toContainText('"bh" at');
  await page.getByRole("button", { name: "Add 1 of 1" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole("button", { name: /^next-boat, from/ })).toBeVisible({ timeout: 30_000 });
  await expect(ruler(page)).toContainText("viseme_");
  await page.getByRole("button", { name: "next-boat", exact: true }).click();
  await expect(page.getByText(/^Moves \d+ shapes and no joint/)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  expect(errors).toEqual([]);
});

test("moments are kept as before, and told against those of the same trial later", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=clips");
  await expect(ruler(page)).toBeVisible({ timeout: 30_000 });
  await takeOff(page, "idle sway", "reach overhead", "wave", "point at the tide board", "look round");
  await page.getByRole("button", { name: "Watch every frame" }).click();
  await page.getByRole("button", { name: "Keep these moments" }).click({ timeout: 60_000 });
  await expect(page.getByText(/^Kept: Oda/)).toBeVisible();
  // the walk alone is stood on the floor: its soles are gone from under it
  await page
    .getByRole("button", { name: /^left foot: under the floor|^right foot: under the floor/ })
    .first()
    .click();
  await page.getByRole("button", { name: "Bring soles to the floor" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Watch every frame" }).click();
  const table = page.getByRole("table", { name: "Before and after" });
  await expect(table).toBeVisible({ timeout: 60_000 });
  await expect(table.getByRole("row").filter({ hasText: "under the floor" }).first()).toContainText("gone");
  await page.getByRole("button", { name: "Let it go" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  expect(errors).toEqual([]);
});
