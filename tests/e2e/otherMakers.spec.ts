import type { Page } from "@playwright/test";
import { expect, test } from "./browserTest";
import { loadMember } from "../../demo/cast";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import type { Character } from "../../core/model/character";
import { dot } from "../../core/math/vec3";
import { renameThings } from "../../core/edits/names/renameThings";
import { seatPart } from "../../core/edits/repairs/seatPart";
import { standUp } from "../../core/edits/repairs/standUp";
import { humanoidMap } from "../../core/skeleton/humanoidMap";
import { jointMotions } from "../../core/skeleton/jointMotions";
import { watchErrors } from "./app";

/** A character of another maker: anatomical joint names, correctives that nothing drives, no clips, few shapes. */
async function foreigner(): Promise<Character> {
  const wick = await loadMember("wick");
  const motions = jointMotions(wick.skeleton!, humanoidMap(wick.skeleton!, wick.jointMap));
  const knees = wick.drivers.filter((d) => /LowerLeg|LowerArm/.test(d.joint));
  const shapes = wick.shapes.filter((s) => knees.some((d) => d.shape === s.name));
  const kept: Character = { ...wick, shapes, drivers: [], shapeDrivers: [], mixes: [], clips: [] };
  const named = renameThings(
    kept,
    "shapes",
    new Map(
      knees.map((d, i) => {
        const motion = motions.find((m) => m.joint === d.joint && Math.abs(dot(m.axis, d.axis)) > 0.9)!;
        return [d.shape, `${motion.label.replaceAll(" ", "_")}_${Math.abs(d.toDegrees)}_v${i}`];
      }),
    ),
  );
  const words: Record<string, string> = {
    hips: "os_sacrum",
    spine: "lumbar",
    head: "caput",
    UpperLeg: "femur",
    LowerLeg: "crus",
    Foot: "talus",
    UpperArm: "humerus",
    LowerArm: "antebrachium",
    Hand: "manus",
    Shoulder: "clavicula",
  };
  const latin = (name: string): string => {
    const bare = name.replace(/^(left|right)/, "");
    return `${words[bare] ?? bare}${name.startsWith("left") ? "_sin" : name.startsWith("right") ? "_dex" : ""}`;
  };
  return renameThings(named, "joints", new Map(wick.skeleton!.joints.map((j) => [j.name, latin(j.name)])));
}

async function takeIn(page: Page, name: string, bytes: Uint8Array): Promise<string> {
  await page.goto("/");
  await page
    .getByLabel("Files: Take in a delivery")
    .setInputFiles({ name, mimeType: "model/gltf-binary", buffer: Buffer.from(bytes) });
  await page.waitForURL(/\/c\/[^/]+\/intake/, { timeout: 60_000 });
  return /\/c\/([^/]+)\//.exec(page.url())![1]!;
}
const remove = async (page: Page, id: string): Promise<void> => {
  await page.request.delete(`/api/characters/${id}`);
};

test(
  "a figure that lies down and came in centimetres: one finding, " +
    "one mend, after the other; then its hair is put on the head",
  async ({ page }) => {
    test.setTimeout(180_000);
    const errors = watchErrors(page);
    const own = await foreigner();
    const id = await takeIn(
      page,
      "fremd.glb",
      await writeGlb(
        standUp(seatPart(own, "hair", { moveMm: [200, -1500, 0], turn: [0, 0, 0], scale: 1 }), 100, "+Z", "-Y"),
      ),
    );
    const row = (text: RegExp) => page.locator("[data-finding]").filter({ hasText: text });
    await row(/lies down: its crown points to/)
      .getByRole("button")
      .first()
      .click();
    await page.getByRole("button", { name: "Mend", exact: true }).click();
    await expect(row(/looks like centimetres: scale by 0\.01/)).toBeVisible({ timeout: 60_000 });
    await row(/looks like centimetres/)
      .getByRole("button")
      .first()
      .click();
    await page.getByRole("button", { name: "Mend", exact: true }).click();
    await expect(page.getByText("step 2/2")).toBeVisible({ timeout: 60_000 });
    await expect(page.locator("header")).toContainText("1.24 m", { timeout: 60_000 });
    await page.goto(`/c/${id}/intake?leaf=parts&open=hair`);
    const seat = page.getByRole("group", { name: "Seat" });
    await seat.getByRole("button", { name: "Put on the head" }).click({ timeout: 60_000 });
    await expect(seat.getByRole("status")).toContainText(
      /There it covers (9\d|100) % of the head's upper half, .*now off the head/,
      { timeout: 60_000 },
    );
    await seat.getByRole("button", { name: "Seat it there" }).click();
    await expect(page.getByText("step 3/3")).toBeVisible({ timeout: 60_000 });
    await remove(page, id);
    expect(errors).toEqual([]);
  },
);

test(
  "correctives that nothing drives are recognised and " + "driven in one step; joints of anatomical names are mapped",
  async ({ page }) => {
    test.setTimeout(180_000);
    const errors = watchErrors(page);
    const id = await takeIn(page, "fremd.glb", await writeGlb(await foreigner()));
    await page.goto(`/c/${id}/skeleton?leaf=map`);
    await expect(page.getByRole("row", { name: /left upper leg/ })).toContainText("femur_sin", { timeout: 60_000 });
    await page.goto(`/c/${id}/correctives`);
    const region = page.getByRole("region", { name: "Shapes that nothing sets" });
    await region.getByRole("button", { name: "Look" }).click({ timeout: 60_000 });
    await expect(region).toContainText(/antebrachium_sin from \d+° to \d+°/);
    await region.getByRole("button", { name: /^Let \d+ shapes be set/ }).click();
    await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 60_000 });
    await expect(region).toHaveCount(0);
    await page.goto(`/c/${id}/trials?leaf=combined`);
    await page.getByRole("button", { name: "Read the poses" }).click({ timeout: 60_000 });
    await expect(page.getByText(/\d+ of \d+ poses over a limit/)).toBeVisible({ timeout: 90_000 });
    await page
      .getByRole("button", { name: /left upper arm .*°, left .*°/ })
      .first()
      .click();
    await expect(page).toHaveURL(/pose=/);
    await remove(page, id);
    expect(errors).toEqual([]);
  },
);

test("characters are renamed, and two of one name are told apart", async ({ page }) => {
  test.setTimeout(120_000);
  const bytes = await writeGlb({ ...(await foreigner()), shapes: [] });
  const [a, b] = [await takeIn(page, "zwilling.glb", bytes), await takeIn(page, "zwilling.glb", bytes)];
  await page.goto("/");
  const cards = page.getByRole("article", { name: "zwilling" });
  await expect(cards).toHaveCount(2);
  await expect(cards.first()).toContainText(/zwilling\.glb, taken in \d{4}-\d\d-\d\d/);
  await cards.first().getByRole("button", { name: "Rename zwilling" }).click();
  await page.getByLabel("New name of zwilling").fill("Doppel");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("article", { name: "Doppel" })).toBeVisible();
  await expect(page.getByRole("article", { name: "zwilling" })).not.toContainText("taken in");
  await remove(page, a);
  await remove(page, b);
});

test("an acceptance is taken back by itself; what is many is one row", async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto("/c/tarn/intake");
  const group = page.locator("[data-group]").first();
  await expect(group).toContainText(
    /joints rest elsewhere than they were bound.*the skeleton stands at T, the mesh at A|places\. Worst:/,
    { timeout: 60_000 },
  );
  const single = page.locator("[data-finding]").first();
  await single.getByRole("button").first().click();
  await page.getByLabel("Reason it may stay").first().fill("asked for so");
  await page.getByRole("button", { name: "Accept" }).first().click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Take back" }).click({ timeout: 60_000 });
  await expect(page.getByText("step 2/2")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: "Take back" })).toHaveCount(0);
  for (const n of [1, 0]) {
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.getByText(new RegExp(`^step ${n}/`))).toBeVisible();
  }
  expect(errors).toEqual([]);
});
