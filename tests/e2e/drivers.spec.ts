import type { Locator } from "@playwright/test";
import { expect, test, type Page } from "./browserTest";
import { openStation, watchErrors } from "./app";

const SHOULDER = "?open=leftUpperArm%2Fraise";
const samples = (page: Page): Locator => page.getByRole("group", { name: "Sampled poses leftUpperArm poses" });
/** Points the bone to a place of the chart, degrees from rest to the right and up. */
async function point(page: Page, x: number, y: number): Promise<void> {
  const chart = samples(page).getByRole("img", { name: /seen from rest/ });
  await chart.scrollIntoViewIfNeeded();
  const { width } = (await chart.boundingBox())!;
  const degree = (width / 250) * (111 / 150);
  await chart.click({ position: { x: width / 2 + degree * x, y: width / 2 - degree * y } });
}

test("poses of a shoulder are sampled on its chart, sculpted, mirrored and undone; the address keeps what is off", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "correctives", SHOULDER);
  await page.getByRole("button", { name: "Begin poses of leftUpperArm" }).click();
  await point(page, 0, 80);
  await samples(page).getByRole("button", { name: "Sample this pose" }).click();
  const first = samples(page).getByRole("button", { name: /^\d+° up$/ });
  await expect(first).toBeVisible({ timeout: 15_000 });
  await point(page, -70, 10);
  await samples(page).getByRole("button", { name: "Keep it as skinned" }).click();
  await expect(samples(page).getByText("as skinned", { exact: true })).toBeVisible({ timeout: 15_000 });
  // at a sample its own shape is at full and the others are at none
  await first.click();
  const line = (name: RegExp): Locator =>
    samples(page)
      .locator(".sample-line")
      .filter({ has: page.getByRole("button", { name }) });
  await expect(line(/^\d+° up$/)).toContainText("1.00");
  await expect(line(/^rest$/)).toContainText("0.00");
  // a stroke in the pose becomes the movement of that sample's shape
  await line(/^\d+° up$/)
    .getByRole("button", { name: /^Sculpt / })
    .click();
  await expect(page.getByRole("group", { name: "Sculpting" })).toContainText("the pose held");
  const stage = (await page.locator(".stage canvas").first().boundingBox())!;
  await page.getByRole("button", { name: "left upper arm", exact: true }).click();
  await page.waitForTimeout(600);
  await page.mouse.move(stage.x + stage.width / 2, stage.y + stage.height / 2);
  await page.mouse.down();
  await page.mouse.move(stage.x + stage.width / 2 + 30, stage.y + stage.height / 2 + 8, { steps: 4 });
  await page.mouse.up();
  await page.getByRole("button", { name: "Return to rest pose" }).click();
  await expect(page.getByRole("group", { name: "Sculpting" })).toBeHidden({ timeout: 20_000 });
  await samples(page).getByRole("button", { name: "Mirror to the other side" }).click();
  await expect(page.locator("text=step 4/4")).toBeVisible({ timeout: 20_000 });
  await openStation(page, "correctives", "?open=rightUpperArm%2Fraise");
  await expect(page.getByRole("group", { name: "Sampled poses rightUpperArm poses" })).toBeVisible({ timeout: 20_000 });
  for (let i = 4; i > 0; i--) {
    await page.keyboard.press("u");
    await expect(page.locator(`text=step ${i - 1}/4`)).toBeVisible({ timeout: 15_000 });
  }
  await expect(page.getByRole("group", { name: /^Sampled poses/ })).toHaveCount(0);
  expect(errors).toEqual([]);
});

test("a corrective of one angle is driven by more: a point on its curve, an effort, its group switched off", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "correctives", "?open=leftLowerArm%2Fbend", "wick");
  const angle = page.getByRole("spinbutton", { name: "Angle of left lower arm bend" });
  await angle.dblclick();
  await page.keyboard.type("150");
  await page.keyboard.press("Enter");
  const before = page.getByRole("group", { name: "Corrective corrective_elbow_bent_left", exact: true });
  await before.getByRole("button", { name: "Drive it by more" }).click();
  const now = page.getByRole("group", { name: "Corrective corrective_elbow_bent_left", exact: true });
  await expect(now.getByRole("group", { name: "angle of leftLowerArm" })).toBeVisible({ timeout: 15_000 });
  await expect(now).toContainText("now at 1.00");
  const curve = now.getByRole("img", { name: /Weight over the angle of leftLowerArm, 2 points/ });
  const box = (await curve.boundingBox())!;
  await curve.dblclick({ position: { x: 0.6 * box.width, y: 0.3 * box.height } });
  await expect(now.getByRole("img", { name: /, 3 points/ })).toBeVisible({ timeout: 15_000 });
  await now.getByRole("button", { name: "And an effort" }).click();
  await expect(now).toContainText("now at 0.40", { timeout: 15_000 });
  const groups = page.getByRole("group", { name: "Groups of drivers" });
  await groups.getByRole("button", { name: "muscles" }).click();
  await expect(page).toHaveURL(/off=muscle/);
  await groups.getByRole("button", { name: "muscles" }).click();
  await expect(page).not.toHaveURL(/off=/);
  for (let i = 3; i > 0; i--) {
    await page.keyboard.press("u");
    await expect(page.locator(`text=step ${i - 1}/3`)).toBeVisible({ timeout: 15_000 });
  }
  await expect(before.getByRole("button", { name: "Drive it by more" })).toBeVisible();
  expect(errors).toEqual([]);
});

test("the twist of limbs is read, spread over joints beside correctives, and undone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "correctives", "", "wick");
  const twist = page.getByRole("region", { name: "Twist along limbs" });
  await twist.getByRole("button", { name: /Twist along limbs/ }).click();
  await twist.getByRole("button", { name: "Read all limbs" }).click();
  await expect(twist.getByRole("row", { name: /left lower arm twist/ })).toContainText(/\d+ %, 2 joints/, {
    timeout: 60_000,
  });
  for (const limb of ["right lower arm", "left upper arm", "right upper arm", "left upper leg", "right upper leg"]) {
    const box = twist.getByRole("checkbox", { name: `Spread ${limb} twist` });
    if (await box.count()) await box.uncheck();
  }
  await twist.getByRole("button", { name: "Add 2 joints along 1 limb" }).click();
  await expect(twist.getByText("2 joints share it")).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText("step 1/1")).toBeVisible();
  await twist.getByRole("button", { name: "Read all limbs" }).click();
  await expect(twist.getByRole("row", { name: /left lower arm twist/ })).toContainText(/9\d %/, { timeout: 60_000 });
  await page.keyboard.press("u");
  await expect(twist.getByText("no joints share it")).toBeVisible({ timeout: 15_000 });
  expect(errors).toEqual([]);
});

test("correctives of another character come over with what drives them, and are swept", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "correctives");
  const from = page.getByRole("region", { name: "From another character" });
  await from.getByRole("button", { name: /^From another character/ }).click();
  await from.getByRole("combobox", { name: "Character whose correctives are carried over" }).click();
  await page.getByRole("option", { name: /^Wick/ }).click();
  await from.getByRole("button", { name: /^Carry 62 correctives over/ }).click();
  await expect(from.getByText(/62 correctives made from Wick's\./)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText("step 1/1")).toBeVisible();
  // every motion is swept with and without them; that goes on, and can be stopped
  await page.getByRole("button", { name: "Cancel" }).click({ timeout: 30_000 });
  await openStation(page, "correctives", "?open=leftLowerLeg%2Fbend");
  await expect(page.getByRole("group", { name: /^Corrective corrective_knee/ }).first()).toBeVisible();
  await page.keyboard.press("u");
  await expect(page.getByRole("group", { name: /^Corrective / })).toHaveCount(0, { timeout: 15_000 });
  expect(errors).toEqual([]);
});
