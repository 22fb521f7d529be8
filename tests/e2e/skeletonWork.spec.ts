import { expect, test } from "./browserTest";
import { openStation, stroke, typeNumber, watchErrors } from "./app";

test("names: a prefix is taken off every joint, seen first, as one step that can be undone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "intake", "?leaf=names", "oda-delivery-2");
  await page.getByLabel("Find in names").fill("dock:");
  await expect(page.getByRole("row", { name: "dock:hips hips" })).toBeVisible();
  await page.getByRole("button", { name: /Rename \d+ joints/ }).click();
  await expect(page.getByText("step 1/1")).toBeVisible();
  await expect(page.getByRole("cell", { name: "hips", exact: true })).toBeVisible();
  // two names would be one: refused before it is done
  await page.getByRole("button", { name: "expression" }).click();
  await page.getByLabel("Find in names").fill("^(left|right)");
  await expect(page.getByText("another has this name").first()).toBeVisible();
  await expect(page.getByRole("button", { name: /Rename \d+ joints/ })).toBeDisabled();
  await page.getByLabel("Find in names").fill("(");
  await expect(page.getByRole("alert")).toContainText("no regular expression");
  await page.getByLabel("Find in names").fill("");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("cell", { name: "dock:hips", exact: true })).toBeVisible();
  expect(errors).toEqual([]);
});

test("weights: a garment takes its weights from the skin; the change is measured before it is taken", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "skeleton", "?leaf=weights&open=top", "tarn");
  const tools = page.getByRole("group", { name: "Weights of top" });
  await tools.getByRole("button", { name: "take from skin" }).click();
  await expect(tools.getByRole("button", { name: "Change the weights" })).toBeDisabled();
  await tools.getByRole("button", { name: "Measure the change" }).click();
  await expect(tools.getByRole("status").filter({ hasText: /at most \d+\.\d\d mm, at / })).toBeVisible({
    timeout: 60_000,
  });
  await tools.getByRole("button", { name: "Change the weights" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  expect(errors).toEqual([]);
});

test("rest pose: arms brought level, the binding measured, bound, and undone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "skeleton", "?leaf=rest", "wick");
  await expect(page.getByText("there is nothing to bind anew")).toBeVisible();
  await page.getByRole("button", { name: "Arms level" }).click();
  await expect(page.getByRole("row", { name: /leftUpperArm/ })).toBeVisible();
  await page.getByRole("button", { name: "Measure the binding" }).click();
  await expect(page.getByRole("status").filter({ hasText: "mm (rms)" })).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Bind in this pose" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible();
  await expect(page.getByText("there is nothing to bind anew")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  expect(errors).toEqual([]);
});

test("pairs: read with progress, the worst first, one shown on the stage", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=pairs", "oda");
  await page.getByRole("button", { name: "Read every pair" }).click();
  await expect(page.getByText(/[\d,]+ pairs, \d+ over a limit/)).toBeVisible({ timeout: 90_000 });
  await expect(page.getByRole("img", { name: /Matrix of \d+ pairs of \d+ shapes/ })).toBeVisible();
  await page.getByLabel("Find a shape").fill("AU28");
  await page
    .getByRole("button", { name: /AU17 \+ AU28/ })
    .or(page.getByRole("button", { name: /AU28 \+ AU17/ }))
    .first()
    .click();
  await expect(page).toHaveURL(/AU17%3D1/);
  await expect(page).toHaveURL(/AU28%3D1/);
  expect(errors).toEqual([]);
});

test("weights are painted on the stage, stroke by stroke, kept as one step, and undone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(
    page,
    "skeleton",
    "?leaf=weights&open=body&joint=leftLowerArm&frame=joint+leftLowerArm&cloth=off",
    "wick",
  );
  const tools = page.getByRole("group", { name: "Weights of body" });
  await tools.getByRole("button", { name: "Paint on the stage" }).click();
  const painting = page.getByRole("group", { name: "Painting body" });
  await expect(page).toHaveURL(/read=weights/);
  await painting.getByRole("switch", { name: "both sides" }).check();
  await stroke(page, [0.46, 0.44], [0.52, 0.52]);
  await expect(painting.getByText("1 stroke; with Shift")).toBeVisible();
  await stroke(page, [0.48, 0.44], [0.54, 0.52]);
  await painting.getByRole("button", { name: "Take back a stroke" }).click();
  await expect(painting.getByText("1 stroke; with Shift")).toBeVisible();
  await painting.getByRole("button", { name: "Keep the painting" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 30_000 });
  await expect(tools.getByRole("button", { name: "Paint on the stage" })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("step 0/1")).toBeVisible();
  expect(errors).toEqual([]);
});

test(
  "trials: a motion that is over its limits gets its " + "correctives in one step, and is within them afterwards",
  async ({ page }) => {
    const errors = watchErrors(page);
    await openStation(page, "trials", "", "tarn");
    await page.getByLabel("Find a joint").fill("left lower arm bend");
    await page.getByRole("button", { name: /^left lower arm bend/ }).click();
    await page.getByRole("button", { name: "Sweep", exact: true }).click();
    await expect(page.getByText(/1 of \d+ swept, 1 over a limit/)).toBeVisible({ timeout: 60_000 });
    await page.getByRole("button", { name: "Correct all 1" }).click();
    await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 90_000 });
    // what was corrected is swept by itself, on both sides
    await expect(page.getByText(/[2-9] of \d+ swept, 0 over a limit/)).toBeVisible({ timeout: 60_000 });
    await expect(page.getByRole("button", { name: /^Correct all/ })).toHaveCount(0);
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.getByText("step 0/1")).toBeVisible();
    expect(errors).toEqual([]);
  },
);

test(
  "the skeleton in the mesh: elbows are set to a bend, " + "builds refitted for the list, each told in numbers first",
  async ({ page }) => {
    const errors = watchErrors(page);
    await openStation(page, "skeleton", "?leaf=rest", "oda-delivery-2");
    await typeNumber(page, "Bend of the elbows", "9");
    const elbows = page.getByRole("group", { name: "Elbow joints" });
    await elbows.getByRole("button", { name: "Preview" }).click();
    await expect(elbows.getByRole("status").filter({ hasText: /bend of left elbow, ° [\d.]+ → 9/ })).toBeVisible();
    await elbows.getByRole("button", { name: "Set elbows" }).click();
    await expect(page.getByText("step 1/1")).toBeVisible();
    await expect(elbows).toContainText("now 9.0° left, 9.0° right");
    await page.getByRole("checkbox", { name: "Refit proportion_child" }).check({ timeout: 30_000 });
    await page.getByRole("button", { name: "Refit 1 shape" }).click();
    await expect(page.getByText("step 2/2")).toBeVisible();
    for (const n of [1, 0]) {
      await page.getByRole("button", { name: "Undo" }).click();
      await expect(page.getByText(`step ${n}/2`)).toBeVisible();
    }
    expect(errors).toEqual([]);
  },
);
