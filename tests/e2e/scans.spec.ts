import { writeFileSync } from "node:fs";
import { loadMember } from "../../demo/cast";
import { objOf, scanOf } from "../../demo/scans/scanOf";
import { openStation, watchErrors } from "./app";
import { expect, test, type Page } from "./browserTest";

test.setTimeout(240_000);

const drag = async (page: Page, from: readonly [number, number], by: readonly [number, number]): Promise<void> => {
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(from[0] + by[0], from[1] + by[1], { steps: 4 });
  await page.mouse.up();
};

test(
  "onto a scan: it is stood, landmarks are moved, skin is " +
    "left out, laid on, and the face is taken on with every shape",
  async ({ page }, info) => {
    const errors = watchErrors(page);
    const wick = await loadMember("wick");
    const eyes = 1.13;
    const file = info.outputPath("scanned head.obj");
    writeFileSync(
      file,
      objOf(
        scanOf(
          wick,
          ([, y, z]) => y > eyes - 0.12 && z > -0.02,
          ([x, y, z]) => [104 * x + 8, -100 * z, 100 * y - 60],
        ),
      ),
    );
    await openStation(page, "shapes", "?leaf=make&make=scan", "wick");
    const says = page.getByRole("region", { name: "Scan file" });
    // what is no surface is refused, and nothing else happens
    const cloud = info.outputPath("cloud.obj");
    writeFileSync(cloud, "v 0 0 0\nv 1 0 0\nv 0 1 0\n");
    await page.getByLabel("File: scan or sculpt").setInputFiles(cloud);
    await expect(page.getByRole("alert")).toContainText("No face is in the file");
    await page.getByLabel("File: scan or sculpt").setInputFiles(file);
    await expect(says).toContainText(/Half of the face lies within [0-3]\.\d mm of it/, { timeout: 60_000 });
    const landmarks = page.getByRole("group", { name: "Landmarks" });
    await expect(landmarks).toContainText(/\d\d landmarks of \d\d on the scan/);
    await landmarks.getByRole("button", { name: /^nose/ }).click();
    await landmarks.getByRole("button", { name: "nose tip", exact: true }).click();
    // what is chosen stands in the middle of the stage
    const box = (await page.locator("section.stage canvas").boundingBox())!;
    const middle = [box.x + box.width / 2, box.y + box.height / 2] as const;
    await expect(async () => {
      await drag(page, middle, [6, -3]);
      await expect(landmarks).toContainText("1 by hand", { timeout: 2000 });
    }).toPass({ timeout: 20_000 });
    await landmarks.getByRole("button", { name: "Take back" }).click();
    await expect(landmarks).not.toContainText("by hand");
    await landmarks.getByRole("button", { name: "Leave nose tip out" }).click();
    await expect(landmarks.getByText("click where it is on the scan")).toBeVisible();
    await page.mouse.click(...middle);
    await expect(landmarks).toContainText("1 by hand");
    await page.getByRole("button", { name: "Paint the mask" }).click();
    await expect(page.getByLabel("Scale: painted share")).toBeVisible();
    await expect(async () => {
      await drag(page, middle, [30, 0]);
      await expect(page.getByText(/\d+ vertices left out/)).toBeVisible({ timeout: 2000 });
    }).toPass({ timeout: 20_000 });
    await page.getByRole("button", { name: "Lay the skin on it" }).click();
    await expect(page.getByText(/Half of the skin lies within 0\.\d\d mm of the scan/)).toBeVisible({
      timeout: 90_000,
    });
    await expect(page.getByLabel("Scale: off the scan, mm")).toBeVisible();
    await page.getByRole("button", { name: "Take on this face" }).click();
    await expect(page.getByText(/The face of scanned head is taken on, \d+ shapes were carried to it/)).toBeVisible({
      timeout: 120_000,
    });
    await expect(page.getByText("step 1/1")).toBeVisible();
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.getByText(/^step 0\//)).toBeVisible();
    expect(errors).toEqual([]);
  },
);
