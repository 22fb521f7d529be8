import { writeFileSync } from "node:fs";
import { loadMember } from "../../demo/cast";
import { expect, test, type Page } from "./browserTest";
import { openStation, stroke, watchErrors } from "./app";
import { objOf, scanOf } from "../../demo/scans/scanOf";

/**
 * What is made in the browser is lost by nothing: answers of the server, other windows, reloads, other stations, going
 * back in the ledger.
 */
const ELBOW = "?open=leftLowerArm%2Fbend&joint=leftLowerArm&frame=joint+leftLowerArm&pose=leftLowerArm%3D100%2C0%2C0";
const bench = (page: Page) => page.getByRole("group", { name: "Sculpting" });
const drafts = (page: Page) => page.getByRole("region", { name: "In work" });

/** Bends the elbow and makes two strokes. */
async function sculptElbow(page: Page): Promise<void> {
  await openStation(page, "correctives", ELBOW, "oda");
  await page.getByRole("button", { name: /^Sculpt at/ }).click();
  await expect(bench(page)).toBeVisible();
  for (const y of [0.5, 0.56]) await stroke(page, [0.46, y], [0.54, y]);
  await expect(bench(page).getByRole("button", { name: "Return to rest pose" })).toBeEnabled();
}
const throwAway = async (page: Page): Promise<void> => {
  await bench(page).getByRole("button", { name: "Discard" }).click();
  await bench(page)
    .getByRole("button", { name: /^Throw 2 strokes away/ })
    .click();
  await expect(bench(page)).toHaveCount(0);
};
const headOf = async (page: Page): Promise<number> =>
  Number((await page.getByText(/^step \d+\/\d+$/).innerText()).match(/\d+/)![0]);
const undoAll = async (page: Page): Promise<void> => {
  for (let left = await headOf(page); left > 0; left--) {
    await page.getByRole("button", { name: "Undo", exact: true }).first().click();
    await expect(page.getByText(new RegExp(`^step ${left - 1}/`))).toBeVisible();
  }
};

test("a sculpt stays open and kept whatever the server answers, and goes when it is taken", async ({ page }) => {
  await sculptElbow(page);
  const said = { what: "The disk of the server is full: nothing was saved.", where: "", todo: "" };
  const answers: [number, object, RegExp][] = [
    [500, {}, /server failed at this/],
    [503, { error: said }, /disk of the server is full/],
    [422, { error: { what: "The change does not fit.", where: "", todo: "" } }, /does not fit/],
    [413, { error: { what: "What was sent is over 64 MB.", where: "", todo: "" } }, /over 64 MB/],
  ];
  for (const [status, body, words] of answers) {
    await page.route("**/api/characters/oda/steps*", (route) =>
      route.fulfill({ status, contentType: "application/json", body: JSON.stringify(body) }),
    );
    await bench(page).getByRole("button", { name: "Return to rest pose" }).click();
    const alert = bench(page).getByRole("alert");
    await expect(alert).toContainText(words);
    await expect(alert).toContainText("stays open");
    await expect(bench(page).getByRole("button", { name: "Discard" })).toBeVisible();
    await page.unroute("**/api/characters/oda/steps*");
  }
  await bench(page).getByRole("button", { name: "Return to rest pose" }).click();
  await expect(page.getByText(/^step 1\//)).toBeVisible();
  await expect(bench(page)).toHaveCount(0);
  await expect(page.getByRole("alert")).toHaveCount(0);
  await page.reload();
  await expect(page.getByText(/^step 1\//)).toBeVisible();
  await expect(drafts(page)).toHaveCount(0);
  // the keys that every program has for it
  for (const [keys, step] of [
    ["Control+z", 0],
    ["Control+Shift+z", 1],
  ] as const) {
    await page.keyboard.press(keys);
    await expect(page.getByText(new RegExp(`^step ${step}/`))).toBeVisible();
  }
  await undoAll(page);
});

test("a step whose answer was lost is taken once, however often it is sent", async ({ page }) => {
  await sculptElbow(page);
  await page.route(
    "**/api/characters/oda/steps*",
    async (route) => {
      await route.fetch();
      await route.abort();
    },
    { times: 1 },
  );
  await bench(page).getByRole("button", { name: "Return to rest pose" }).click();
  await expect(bench(page).getByRole("alert")).toContainText("server does not answer");
  const banner = page.getByRole("alert").filter({ hasText: "Not saved yet" });
  await banner.getByRole("button", { name: "Try again" }).click();
  await expect(banner).toHaveCount(0);
  await expect(bench(page)).toHaveCount(0);
  await expect(page.getByText("step 1/1")).toBeVisible();
  await undoAll(page);
});

test("after another window's change a sculpt is put on top, or any change kept as a draft", async ({ page }) => {
  await sculptElbow(page);
  // another window redoes the step that this one undid
  const { revision } = (await (await page.request.get("/api/characters/oda/state")).json()) as { revision: number };
  expect((await page.request.post("/api/characters/oda/head", { data: { by: 1, revision } })).ok()).toBe(true);
  await bench(page).getByRole("button", { name: "Return to rest pose" }).click();
  await expect(bench(page).getByRole("alert")).toContainText("Another window changed this character");
  await bench(page).getByLabel("Name of the corrective").fill("on top");
  await bench(page).getByRole("button", { name: "Put mine on top" }).click();
  await expect(page.getByText("step 2/2")).toBeVisible();
  await expect(bench(page)).toHaveCount(0);
  // the same with a change that no tool holds open
  const now = (await (await page.request.get("/api/characters/oda/state")).json()) as { revision: number };
  expect((await page.request.post("/api/characters/oda/head", { data: { by: -1, revision: now.revision } })).ok()).toBe(
    true,
  );
  await page.getByRole("button", { name: "Propose a sculpt" }).click();
  const banner = page.getByRole("alert").filter({ hasText: "Not saved yet" });
  await expect(banner).toContainText("Another window changed this character", { timeout: 60_000 });
  await banner.getByRole("button", { name: "Keep as a draft" }).click();
  await expect(banner).toHaveCount(0);
  await page.reload();
  await drafts(page).getByRole("button", { name: "Send it" }).click();
  await banner.getByRole("button", { name: "Try again" }).click();
  await expect(page.getByText("step 2/2")).toBeVisible();
  // the step that was undone elsewhere is a branch now
  await page.goto("/c/oda/handoff?leaf=ledger");
  const branches = page.getByRole("region", { name: "Branches" });
  await expect(branches.getByRole("button", { name: /on top/ })).toBeVisible();
  await undoAll(page);
});

test("a sculpt survives a reload, another station and the cast, and is seen from everywhere", async ({ page }) => {
  const errors = watchErrors(page);
  await sculptElbow(page);
  await bench(page).getByLabel("Name of the corrective").fill("bulge of mine");
  await expect.poll(() => page.evaluate(() => indexedDB.databases().then((d) => d.length))).toBeGreaterThan(0);
  await page.waitForTimeout(1200);
  await page.reload();
  await expect(drafts(page)).toContainText("a sculpt of left lower arm bend");
  await expect(drafts(page)).toContainText("2 strokes");
  await drafts(page).getByRole("button", { name: "Go on" }).click();
  await expect(bench(page)).toBeVisible({ timeout: 40_000 });
  await expect(bench(page).getByLabel("Name of the corrective")).toHaveValue("bulge of mine");
  await expect(drafts(page)).toHaveCount(0);
  // strokes of before the reload can still be taken back
  await bench(page)
    .getByText(/Stroke over/)
    .click();
  for (const key of ["u", "u"]) await page.keyboard.press(key);
  await expect(bench(page).getByRole("button", { name: "Return to rest pose" })).toBeDisabled();
  for (const key of ["Shift+U", "Shift+U"]) await page.keyboard.press(key);
  await page
    .getByRole("navigation", { name: "Stations" })
    .getByRole("link", { name: /Skeleton/ })
    .click();
  await expect(drafts(page)).toContainText("a sculpt of left lower arm bend");
  await page
    .getByRole("navigation", { name: "Stations" })
    .getByRole("link", { name: /Correctives/ })
    .click();
  await expect(bench(page)).toHaveCount(0);
  for (const row of (await page.getByRole("button", { expanded: false }).all()).slice(0, 5))
    await expect(row).toBeEnabled();
  await page.getByRole("link", { name: /to the cast/ }).click();
  await page.getByRole("link", { name: /In work: a sculpt/ }).click();
  await expect(bench(page)).toBeVisible({ timeout: 40_000 });
  await throwAway(page);
  await page.reload();
  await expect(page.getByRole("heading", { name: "Correctives" })).toBeVisible();
  await expect(drafts(page)).toHaveCount(0);
  expect(errors).toEqual([]);
});

test("painted weights, a mask, landmarks and rules survive a reload", async ({ page }, info) => {
  const goOn = async (what: RegExp): Promise<void> => {
    await page.waitForTimeout(1200);
    await page.reload();
    // on a busy machine the character takes its time, and a draft waits for it
    await expect(page.locator("html")).toHaveAttribute("data-stage", "drawn", { timeout: 40_000 });
    await expect(drafts(page)).toContainText(what);
    await drafts(page).getByRole("button", { name: "Go on" }).click();
  };
  await openStation(
    page,
    "skeleton",
    "?leaf=weights&open=body&joint=leftLowerArm&frame=joint+leftLowerArm&cloth=off",
    "wick",
  );
  await page.getByRole("button", { name: "Paint on the stage" }).click();
  await stroke(page, [0.46, 0.44], [0.52, 0.52]);
  const painting = page.getByRole("group", { name: "Painting body" });
  const strokes = painting.getByText(/^\d+ strokes?; with Shift/);
  await expect(strokes).not.toHaveText(/^0/);
  const painted = await strokes.innerText();
  await goOn(/weights painted on body/);
  await expect(strokes).toHaveText(painted, { timeout: 40_000 });
  await painting.getByRole("button", { name: "Discard" }).click();
  await painting.getByRole("button", { name: /^Throw \d+ stroke/ }).click();
  await expect(painting).toHaveCount(0);

  const wick = await loadMember("wick");
  const file = info.outputPath("head.obj");
  writeFileSync(
    file,
    objOf(
      scanOf(
        wick,
        ([, y, z]) => y > 1.01 && z > -0.02,
        ([x, y, z]) => [100 * x, 100 * y, 100 * z],
      ),
    ),
  );
  await openStation(page, "shapes", "?leaf=make&make=scan", "wick");
  await page.getByLabel("File: scan or sculpt").setInputFiles(file);
  const landmarks = page.getByRole("group", { name: "Landmarks" });
  await expect(landmarks).toBeVisible({ timeout: 60_000 });
  await landmarks.getByRole("button", { name: /^nose/ }).click();
  await landmarks.getByRole("button", { name: "Leave nose tip out" }).click();
  const set = await landmarks.getByText(/\d+ landmarks of \d+ on the scan/).innerText();
  await page.getByRole("button", { name: "Paint the mask" }).click();
  await stroke(page, [0.46, 0.5], [0.54, 0.5]);
  await goOn(/a mask on body/);
  await expect(drafts(page)).toContainText("the scan head", { timeout: 40_000 });
  await drafts(page).getByRole("button", { name: "Go on" }).click();
  await expect(landmarks).toBeVisible({ timeout: 40_000 });
  await expect(landmarks).toContainText(set.match(/\d+ landmarks of \d+/)![0]);
  await expect(page.getByText(/\d vertices left out/)).toBeVisible({ timeout: 40_000 });
  await page.getByRole("button", { name: "Put the scan away" }).click();
  await expect(landmarks).toHaveCount(0);

  await page.goto("/c/wick/intake?leaf=names");
  await page.getByLabel("Find in names").fill("left");
  await page.getByLabel("Replace by").fill("lewa");
  await page.waitForTimeout(600);
  await page.goto("/c/wick/trials");
  await expect(drafts(page)).toContainText("a rule for names");
  await expect(drafts(page)).toContainText('"left" by "lewa"');
  await drafts(page).getByRole("button", { name: "Go on" }).click();
  await expect(page.getByLabel("Find in names")).toHaveValue("left");
});

test("steps undone before others are made stay as a branch that is seen and taken up again", async ({ page }) => {
  await openStation(page, "skeleton", "?leaf=map", "tarn");
  await page.keyboard.press("6");
  await page.goto("/c/tarn/handoff?leaf=ledger");
  const step = async (joint: string): Promise<void> => {
    await page.goto("/c/tarn/skeleton?leaf=map");
    const before = await headOf(page);
    const list = page.getByLabel(`Joint for ${joint}`).locator("..");
    await expect(async () => {
      if (!(await page.getByRole("option", { name: "none", exact: true }).isVisible()))
        await list.getByRole("combobox").click({ timeout: 3000 });
      await page.getByRole("option", { name: "none", exact: true }).click({ timeout: 3000 });
    }).toPass({ timeout: 30_000 });
    await expect(page.getByText(new RegExp(`^step ${before + 1}/`))).toBeVisible();
  };
  await step("left toes");
  await step("right toes");
  await undoAll(page);
  await step("jaw");
  await expect(page.getByText(/2 steps undone before are kept as a branch/)).toBeVisible();
  await page.goto("/c/tarn/handoff?leaf=ledger");
  const branches = page.getByRole("region", { name: "Branches" });
  const row = branches.getByRole("button", { name: /2 steps/ });
  await row.click();
  await expect(branches.getByRole("listitem")).toHaveCount(2);
  await branches.getByRole("button", { name: "Take these up" }).click();
  await expect(page.getByText("step 2/2")).toBeVisible();
  // what stood before is a branch in its turn, and nothing is kept twice
  await expect(branches.getByRole("button", { name: /1 step/ })).toBeVisible();
  await expect(branches.locator(".row")).toHaveCount(1);
  await branches.getByRole("button", { name: /1 step/ }).click();
  await branches.getByRole("button", { name: "Throw away" }).click();
  await branches.getByRole("button", { name: /^Throw 1 step/ }).click();
  await expect(branches).toHaveCount(0);
  await undoAll(page);
});
