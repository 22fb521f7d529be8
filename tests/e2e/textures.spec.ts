import { readFileSync } from "node:fs";
import { encode as encodePng } from "fast-png";
import { loadMember } from "../../demo/cast";
import { readGlb } from "../../core/formats/glb/readGlb";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import type { Character } from "../../core/model/character";
import { choose, watchErrors } from "./app";
import { expect, test } from "./browserTest";

const png = (at: (x: number, y: number) => readonly [number, number, number]): Buffer =>
  Buffer.from(
    encodePng({
      width: 16,
      height: 16,
      channels: 3,
      data: Uint8Array.from(Array.from({ length: 256 }, (_, i) => at(i % 16, i >> 4)).flat()),
    }),
  );

/** A character as a mesh alone: its textures come beside it. */
async function withoutTextures(): Promise<Character> {
  const wick = await loadMember("wick");
  return {
    ...wick,
    shapes: wick.shapes.slice(0, 3),
    drivers: [],
    shapeDrivers: [],
    mixes: [],
    clips: [],
    materials: wick.materials.map((m) => ({
      name: m.name,
      baseColor: m.baseColor,
      roughness: m.roughness,
      metallic: m.metallic,
      opacity: "opaque",
      alphaCutoff: 0.5,
      doubleSided: false,
      texture: null,
    })),
  };
}

test("textures beside a GLB are matched, set right by hand, taken, and handed off", async ({ page }) => {
  test.setTimeout(180_000);
  const errors = watchErrors(page);
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  const image = (name: string, buffer: Buffer): { name: string; mimeType: string; buffer: Buffer } => ({
    name,
    mimeType: "image/png",
    buffer,
  });
  const skin = png((x, y) => [200 + x, 150 + y, 120]);
  await page.getByLabel("Files: Take in a delivery").setInputFiles([
    {
      name: "quay child.glb",
      mimeType: "model/gltf-binary",
      buffer: Buffer.from(await writeGlb(await withoutTextures())),
    },
    image("T_Skin_Albedo.png", skin),
    image(
      "skin-roughness.png",
      png((x) => [100 + x, 100 + x, 100 + x]),
    ),
    image(
      "Eyelashes_Opacity.png",
      png((x) => [16 * x, 16 * x, 16 * x]),
    ),
    image(
      "harbour_normal.png",
      png(() => [128, 128, 255]),
    ),
    image(
      "hair_height.png",
      png(() => [90, 90, 90]),
    ),
  ]);
  await page.getByRole("button", { name: "Take in 6 files" }).click();
  await expect(page).toHaveURL(/intake\?leaf=parts&open=/, { timeout: 40_000 });
  const table = page.getByRole("table", { name: "Images and what they are taken for" });
  await expect(table.getByRole("row", { name: /T_Skin_Albedo/ })).toContainText(/base colour.*skin/, {
    timeout: 30_000,
  });
  await expect(table.getByRole("row", { name: /Eyelashes_Opacity/ })).toContainText(/opacity.*lash/);
  await expect(table.getByRole("row", { name: /hair_height/ })).toContainText("has no place in a glTF material");
  await expect(table.getByRole("row", { name: /harbour_normal/ })).toContainText("nothing here is called harbour");
  await expect(page.getByRole("button", { name: "Take 3 of 5" })).toBeVisible();
  const material = page.getByRole("combobox", { name: "Material of harbour_normal.png" });
  await choose(
    page,
    table
      .getByRole("row", { name: /harbour_normal/ })
      .locator("td")
      .nth(3),
    "top cloth",
  );
  await expect(material).toHaveText("top cloth");
  await page.getByRole("button", { name: "Take 4 of 5" }).click();
  await expect(page.getByText("4 maps taken, of 4 files.")).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText("step 1/1")).toBeVisible();
  const materials = page.getByRole("table", { name: "Materials" });
  await expect(materials.getByRole("row", { name: /Choose lash/ })).toContainText("blended");
  await expect(materials.getByRole("row", { name: /Choose top cloth/ })).toContainText("normal");
  // many at once: both cloths are drawn from both sides as one step
  await page.getByRole("checkbox", { name: "Choose top cloth" }).check();
  await page.getByRole("checkbox", { name: "Choose trouser cloth" }).check();
  await choose(
    page,
    materials
      .getByRole("row", { name: /Choose trouser cloth/ })
      .locator("td")
      .nth(3),
    "both sides",
  );
  await expect(page.getByText("step 2/2")).toBeVisible({ timeout: 30_000 });
  for (const name of ["top cloth", "trouser cloth"])
    await expect(page.getByRole("combobox", { name: `Sides of ${name} that are drawn` })).toHaveText("both sides");
  await page
    .getByRole("navigation", { name: "Stations" })
    .getByRole("link", { name: /Hand-off/ })
    .click();
  await page.getByRole("button", { name: "Write and prove" }).click();
  const slip = page.getByRole("article", { name: "Receipt of version 1" });
  await expect(slip.getByText("Read back and found the same.")).toBeVisible({ timeout: 60_000 });
  const out = page.waitForEvent("download");
  await slip.getByRole("link", { name: /Download GLB \d/ }).click();
  const back = await readGlb(new Uint8Array(readFileSync((await (await out).path())!)), "quay child.glb");
  const of = (name: string): Character["materials"][number] => back.materials.find((m) => m.name === name)!;
  expect(Buffer.from(of("skin").texture!.bytes).equals(skin)).toBe(true);
  expect(of("skin").maps!.map((m) => m.slot)).toEqual(["metallic roughness"]);
  expect(of("top cloth")).toMatchObject({ doubleSided: true, maps: [{ slot: "normal" }] });
  expect(of("lash")).toMatchObject({ opacity: "blend", doubleSided: false });
  expect(of("trouser cloth").doubleSided).toBe(true);
  await page.getByRole("link", { name: /to the cast/ }).click();
  await page.getByRole("button", { name: /Delete quay child/ }).click();
  await page.getByRole("button", { name: "Delete for good" }).click();
  await expect(page.getByRole("article", { name: /quay child/ })).toHaveCount(0);
  expect(errors).toEqual([]);
});
