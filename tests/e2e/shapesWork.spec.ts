import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { expect, test, type Page } from "./browserTest";
import { loadMember } from "../../demo/cast";
import { writeObj } from "../../core/formats/obj/writeObj";
import type { Character } from "../../core/model/character";
import { movedBy } from "../../core/model/movedBy";
import { openStation, stroke, typeNumber, watchErrors } from "./app";

/** Shapes made by hand, from shapes, from files and from another character; pairs answered; expressions mixed. */
test.setTimeout(150_000);

/** Takes back every step, so that the next test finds the character as it was. */
async function undoAll(page: Page): Promise<void> {
  for (let i = 0; i < 12 && !(await page.getByText(/step 0\/\d/).isVisible()); i++) {
    await page.getByRole("button", { name: "Undo", exact: true }).click();
    await page.waitForTimeout(700);
  }
  await expect(page.getByText(/step 0\/\d/)).toBeVisible();
}

test("by hand: a shape is sculpted at rest, kept under a name, seen in the list and sculpted again", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=make&make=hand&frame=face", "wick");
  await page.getByRole("button", { name: "Begin sculpting" }).click();
  await expect(page.getByRole("button", { name: "Keep", exact: true })).toBeDisabled();
  await stroke(page, [0.45, 0.42], [0.52, 0.46]);
  await page.getByLabel("Name of the shape").fill("AU12_left");
  await expect(page.getByText("There is a shape of this name.")).toBeVisible();
  await page.getByLabel("Name of the shape").fill("cheek_full");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "List" }).click();
  await page.getByLabel("Find a shape").fill("cheek_full");
  await page.getByRole("button", { name: "cheek_full" }).click();
  await expect(page.getByRole("row", { name: /^body/ })).toBeVisible();
  await page.getByRole("button", { name: "Sculpt again" }).click();
  await page.getByRole("button", { name: "Begin sculpting" }).click();
  await stroke(page, [0.45, 0.42], [0.52, 0.46]);
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByText("step 2/2")).toBeVisible({ timeout: 20_000 });
  await undoAll(page);
  expect(errors).toEqual([]);
});

test("from shapes: the mix on the stage becomes one shape, and a shape its left and right", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=make&make=shapes&w=AU18%3D0.5~AU25%3D0.3&frame=mouth", "wick");
  await page.getByLabel("Name of the new shape").fill("kiss");
  await page.getByRole("button", { name: "Make the shape" }).click();
  await expect(page.getByRole("status").filter({ hasText: "kiss made." })).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "left and right", exact: true }).click();
  await page.getByLabel("Shape it is made of").fill("kiss");
  await page.getByRole("option", { name: "kiss", exact: true }).click();
  await page.getByRole("button", { name: "Make 2 shapes" }).click();
  await expect(page.getByText("kiss_left and kiss_right made.")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "List" }).click();
  await page.getByLabel("Find a shape").fill("kiss");
  await expect(page.getByRole("button", { name: "kiss_left", exact: true })).toBeVisible();
  await page.getByRole("button", { name: "kiss", exact: true }).click();
  await page.getByRole("button", { name: "Remove", exact: true }).click();
  await page.getByRole("button", { name: "Remove kiss", exact: true }).click();
  await expect(page.getByRole("button", { name: "kiss", exact: true })).toHaveCount(0, { timeout: 20_000 });
  await undoAll(page);
  expect(errors).toEqual([]);
});

test(
  "from files: another unit is set right, another mesh " + "is refused with the reason, and what fits is taken in",
  async ({ page }) => {
    const errors = watchErrors(page);
    const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-targets-"));
    const wick = await loadMember("wick");
    const body = wick.parts.findIndex((p) => p.kind === "body");
    const only: Character = { ...wick, parts: [wick.parts[body]!] };
    const { moved } = movedBy(
      wick.parts[body]!,
      wick.shapes.find((s) => s.name === "AU12_left")!.deltas.find((d) => d.part === body)!,
    );
    writeFileSync(path.join(dir, "grin.obj"), writeObj(only, [moved.map((x) => 100 * x)]));
    writeFileSync(path.join(dir, "AU26.obj"), writeObj(only, [moved]));
    writeFileSync(path.join(dir, "stranger.obj"), "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    await openStation(page, "shapes", "?leaf=make&make=files", "wick");
    await page
      .getByLabel("Files: target meshes")
      .setInputFiles(["grin.obj", "AU26.obj", "stranger.obj"].map((f) => path.join(dir, f)));
    await expect(page.getByRole("row", { name: /stranger.*It has 3 vertices/ })).toBeVisible({ timeout: 60_000 });
    await expect(page.getByRole("row", { name: /grin.*It was in centimetres/ })).toBeVisible();
    await expect(page.getByText("1 name is taken")).toBeVisible();
    await page.getByRole("button", { name: "Take in 2 shapes" }).click();
    await expect(page.getByRole("status").filter({ hasText: "2 shapes taken in." })).toBeVisible({ timeout: 30_000 });
    await page.getByRole("button", { name: "List" }).click();
    await page.getByLabel("Find a shape").fill("AU26");
    await expect(page.getByRole("button", { name: "AU26 2", exact: true })).toBeVisible();
    await undoAll(page);
    expect(errors).toEqual([]);
  },
);

test("from another character: Tarn gets Oda's shapes, and no check of shapes or face finds anything", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=make&make=character", "tarn");
  await page.getByText("Choose who from").click();
  await page.getByRole("option", { name: /^Oda.*Slackwater/ }).click();
  await page.getByRole("button", { name: /Carry \d+ shapes over/ }).click({ timeout: 60_000 });
  await page.getByRole("button", { name: /^Take \d+ shapes/ }).click({ timeout: 120_000 });
  await expect(page.getByText(/shapes taken over from/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Proof" }).click();
  await expect(page.getByText(/^\d+ shapes, 0 with findings/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Coverage" }).click();
  await expect(page.getByText("62 of 62 covered")).toBeVisible();
  await undoAll(page);
  expect(errors).toEqual([]);
});

test("coverage: an expression whose shape went is begun as a mix, tuned, and kept in the VRM", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=list&open=happy", "wick");
  await page.getByRole("button", { name: "Remove", exact: true }).click();
  await page.getByRole("button", { name: "Remove happy" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("button", { name: "Coverage" }).click();
  await page.getByRole("button", { name: "happy, happy: missing" }).click();
  await page.getByRole("button", { name: "Begin the mix" }).click();
  const mix = page.getByRole("group", { name: "Mix happy" });
  await expect(mix).toBeVisible({ timeout: 20_000 });
  await typeNumber(page, "happy: AU12_left", "0.75");
  await expect(page.getByText("step 3/3")).toBeVisible({ timeout: 20_000 });
  await page.getByRole("link", { name: /Hand-off/ }).click();
  await page.getByRole("button", { name: "Write and prove" }).click();
  const receipt = page.getByRole("article", { name: "Receipt of version 1" });
  await expect(receipt).toBeVisible({ timeout: 90_000 });
  const download = page.waitForEvent("download");
  await receipt.getByRole("button", { name: "Download VRM" }).click();
  const bytes = readFileSync((await (await download).path())!);
  const json = JSON.parse(bytes.subarray(20, 20 + bytes.readUInt32LE(12)).toString()) as {
    extensions: { VRMC_vrm: { expressions: { preset: { happy: { morphTargetBinds: { weight: number }[] } } } } };
  };
  expect(json.extensions.VRMC_vrm.expressions.preset.happy.morphTargetBinds.map((b) => b.weight)).toContain(0.75);
  await undoAll(page);
  expect(errors).toEqual([]);
});

test(
  "pairs: read by two workers, one answered by a " + "combination, only what changed read again; mixes by chance",
  async ({ page }) => {
    const errors = watchErrors(page);
    await openStation(page, "trials", "?leaf=pairs", "oda-delivery-2");
    await page.getByRole("button", { name: "Read every pair" }).click();
    const count = page.getByText(/[\d,]+ pairs, \d+ over a limit/);
    await expect(count).toBeVisible({ timeout: 90_000 });
    const before = Number(/(\d+) over/.exec(await count.innerText())![1]);
    await page.locator(".row-line").first().click();
    await expect(page.getByRole("row", { name: /^turned faces/ })).toBeVisible();
    await page.getByRole("button", { name: "Make a combination" }).click();
    await expect(page.getByText(/1 combination made: .* gives way to/)).toBeVisible({ timeout: 60_000 });
    await page.getByRole("button", { name: "Read 1 changed pair" }).click();
    await expect(page.getByText(new RegExp(`pairs, ${before - 1} over a limit`))).toBeVisible({ timeout: 30_000 });
    await page.getByRole("button", { name: "Mixes" }).click();
    await typeNumber(page, "Number of mixes", "120");
    await page.getByRole("button", { name: "Search mixes" }).click();
    await expect(page.getByText(/\d+ of 120 over a limit, seed 1/)).toBeVisible({ timeout: 60_000 });
    await page.locator(".row-line").first().click();
    await expect(page.getByRole("row", { name: /^lips cross/ })).toBeVisible();
    await undoAll(page);
    expect(errors).toEqual([]);
  },
);

test("shape choice: rules leave shapes out, a favourite stays, and all come back", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "intake", "?leaf=shapes", "oda-delivery-2");
  const count = page.getByRole("status").filter({ hasText: "kept" });
  const all = Number(/of (\d+) kept/.exec(await count.innerText())![1]);
  await page.getByRole("button", { name: "Add a rule" }).click();
  await page.getByLabel("Rule 1: text").fill("viseme");
  await expect(count).toHaveText(`${all - 14} of ${all} kept`);
  await page.getByRole("button", { name: "viseme_10 is a favourite" }).click();
  await expect(count).toHaveText(`${all - 13} of ${all} kept`);
  await page.getByRole("button", { name: "Change 13" }).click();
  await expect(page.getByText(/step 1\/1/)).toBeVisible({ timeout: 20_000 });
  await page.getByRole("link", { name: /Shapes/ }).click();
  await page.getByRole("button", { name: "List" }).click();
  await page.getByLabel("Find a shape").fill("viseme");
  await expect(page.getByRole("button", { name: "viseme_10", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "viseme_1", exact: true })).toHaveCount(0);
  // the rules are saved with the character; without them all is kept again
  await openStation(page, "intake", "?leaf=shapes", "oda-delivery-2");
  await page.getByRole("button", { name: "Take rule 1 out" }).click();
  await page.getByRole("button", { name: "Change 13" }).click();
  await expect(count).toHaveText(`${all} of ${all} kept`);
  await undoAll(page);
  expect(errors).toEqual([]);
});

test(
  "cloth: skin through the clothes is read over every " + "motion, worst first, and a row poses the figure there",
  async ({ page }) => {
    const errors = watchErrors(page);
    await openStation(page, "trials", "?leaf=cloth", "wick");
    await page.getByRole("button", { name: "Walk through" }).click();
    await expect(page.getByText(/\d+ of \d+ motions over 5 mm/)).toBeVisible({ timeout: 60_000 });
    const depths = (await page.locator(".row-line .limitbar .text").allInnerTexts()).map(parseFloat);
    expect(depths).toEqual([...depths].sort((a, b) => b - a));
    await page.locator(".row-line").first().click();
    await expect(page.locator(".row-line").first()).toHaveAttribute("aria-pressed", "true");
    await expect(page).toHaveURL(/pose=/);
    await expect(page.getByRole("row", { name: /^top/ })).toBeVisible();
    expect(errors).toEqual([]);
  },
);

test("bake and follow: a build goes into the base and back, a part is let follow the skin", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=make&make=base&w=proportion_broad%3D0.4", "oda-delivery-2");
  await expect(page.getByText(/moves \d+ parts by up to/)).toBeVisible();
  await page.getByRole("button", { name: "Bake it into the base" }).click();
  await expect(page.getByRole("status").filter({ hasText: "baked" })).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: /^Followers/ }).click();
  await expect(page.getByText(/moves in \d+ of the \d+ shapes/)).toBeVisible();
  await page.getByRole("button", { name: "Let it follow" }).click();
  await expect(page.getByRole("status").filter({ hasText: "follows the skin from now on" })).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByText("step 2/2")).toBeVisible();
  await page.getByRole("button", { name: "Stop that" }).click();
  await expect(page.getByText("step 3/3")).toBeVisible();
  await expect(page.getByText("Follows for good")).toHaveCount(0);
  await undoAll(page);
  expect(errors).toEqual([]);
});

test("trims: the face checks are read before the lip seam is moved, as one step that can be undone", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=make&make=trims", "wick");
  await typeNumber(page, "Lip seam back", "1");
  const lips = page.getByRole("group", { name: "Lips" });
  await lips.getByRole("button", { name: "Preview" }).click();
  await expect(lips.getByRole("status").filter({ hasText: /ace checks would find/ })).toBeVisible({ timeout: 60_000 });
  await lips.getByRole("button", { name: "Trim the lips" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible();
  await typeNumber(page, "Part width", "90");
  await page.getByRole("button", { name: "Trim tongue" }).click();
  await expect(page.getByText("step 2/2")).toBeVisible();
  await undoAll(page);
  expect(errors).toEqual([]);
});

test("proof: every picture beside that of another of the cast", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes", "?leaf=proof", "wick");
  const first = page.getByRole("button", { name: /^AU12_left,/ });
  await page.getByLabel("Find a shape").fill("AU12");
  await expect(first.locator("img")).toHaveCount(1, { timeout: 60_000 });
  await page.getByText("nothing", { exact: true }).click();
  await page.getByRole("option", { name: /^Oda, Ferry pilot, Slackwater/ }).click();
  await expect(first.locator("img")).toHaveCount(2, { timeout: 60_000 });
  await expect(page).toHaveURL(/beside=cast/);
  expect(errors).toEqual([]);
});
