import { readFileSync } from "node:fs";
import { decode, encode } from "fast-png";
import { expect, test, type Page } from "./browserTest";
import { loadMember } from "../../demo/cast";
import { writeBvh } from "../../core/formats/bvh/writeBvh";
import { readGlb } from "../../core/formats/glb/readGlb";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { groupOfEachFace } from "../../core/model/cornerLook";
import { boxPart, characterWith } from "../helpers/characters";
import { choose, openStation, typeNumber, watchErrors } from "./app";

const undone = async (page: Page): Promise<void> => {
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText(/^step 0\//)).toBeVisible();
};

test("repairs of the whole: triangles are previewed, left out as one step, and come back", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "intake", "?leaf=parts", "wick");
  await page.getByRole("button", { name: /^The whole character/ }).click();
  const tool = page.getByRole("group", { name: "Fewer triangles" });
  await typeNumber(page, "Triangles at most", "24000");
  await tool.getByRole("button", { name: "Preview" }).click();
  await expect(tool.getByRole("status").filter({ hasText: /triangles 36,\d+ → 2[34],\d+/ })).toBeVisible({
    timeout: 60_000,
  });
  await tool.getByRole("button", { name: "Reduce" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole("button", { name: /^The whole character/ })).toContainText(/2[34],\d+ triangles/);
  await undone(page);
  // up and front on one line are refused before anything is done
  await choose(page, page.getByLabel("Axis that points up").locator(".."), "-Z");
  await page.getByRole("group", { name: "Scale and turn" }).getByRole("button", { name: "Preview" }).click();
  await expect(page.getByRole("group", { name: "Scale and turn" }).getByRole("alert")).toContainText(
    "cannot both lie along Z",
  );
  expect(errors).toEqual([]);
});

test("hair is seated by hand: the skin that would stand out is read as it moves", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "intake", "?leaf=parts&open=hair", "wick");
  await typeNumber(page, "Move along y", "-20");
  await expect(
    page
      .getByRole("group", { name: "Seat" })
      .getByRole("status")
      .filter({ hasText: /There it covers \d+ % of the head's upper half, .* over the skin, uneven by .* mm/ }),
  ).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Seat it there" }).click();
  await expect(page.getByText("step 1/1")).toBeVisible();
  await expect(page.getByRole("spinbutton", { name: "Move along y" })).toHaveText("0.0 mm");
  await undone(page);
  expect(errors).toEqual([]);
});

test(
  "a hat and a clip that come alone are told one by one " + "and added; what cannot be read is refused by itself",
  async ({ page }) => {
    const errors = watchErrors(page);
    const oda = await loadMember("oda");
    await openStation(page, "intake", "?leaf=deliveries", "wick");
    await page.getByLabel("Files: Add parts or clips").setInputFiles([
      {
        name: "rain hat.glb",
        mimeType: "model/gltf-binary",
        buffer: Buffer.from(
          await writeGlb(characterWith({ parts: [boxPart("rain hat", [0.09, 0.04, 0.1], [0, 1.24, 0], "garment")] })),
        ),
      },
      {
        name: "salute.bvh",
        mimeType: "text/plain",
        buffer: Buffer.from(
          writeBvh(
            oda.skeleton!,
            oda.clips.find((c) => c.name === "wave")!,
          ),
        ),
      },
      { name: "notes.txt", mimeType: "text/plain", buffer: Buffer.from("none") },
    ]);
    const table = page.getByRole("table", { name: "What the files bring" });
    await expect(table.getByRole("row", { name: /rain hat/ })).toContainText("not bound");
    await expect(table.getByRole("row", { name: /salute/ })).toContainText(/of its \d+ joints move this character/);
    await expect(page.getByRole("region", { name: "Add parts or clips" }).getByRole("alert")).toContainText(
      "notes.txt",
    );
    await page.getByRole("button", { name: "Add 2 of 2" }).click();
    await expect(page.getByText("step 2/2")).toBeVisible({ timeout: 30_000 });
    await page.getByRole("button", { name: "Parts", exact: true }).click();
    await expect(page.getByRole("button", { name: /^rain hat/ })).toBeVisible();
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.getByText("step 1/2")).toBeVisible();
    await undone(page);
    await expect(page.getByRole("button", { name: /^rain hat/ })).toHaveCount(0);
    expect(errors).toEqual([]);
  },
);

test("rest pose: legs are stood down, and how deep limbs cut into the body stands beside it", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "skeleton", "?leaf=rest", "oda");
  await page.getByRole("button", { name: "Legs down, apart by" }).click();
  await expect(page.getByRole("row", { name: /^leftFoot/ })).toBeVisible();
  await expect(
    page.getByRole("table", { name: "Limbs into the body" }).getByRole("row", { name: /left upper leg \d+\.\d mm/ }),
  ).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Back to rest" }).click();
  expect(errors).toEqual([]);
});

test("a joint is picked on the stage for a bone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "skeleton", "?leaf=map&joints=on&frame=joint+leftHand", "wick");
  await page.getByLabel("Find a bone or joint").fill("left lower arm");
  await page.getByRole("button", { name: "Pick", exact: true }).click();
  const box = (await page.locator("section.stage canvas").boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByText("step 1/1")).toBeVisible({ timeout: 20_000 });
  await undone(page);
  expect(errors).toEqual([]);
});

test("the walk: every motion is read for what tears, the hair on the arm first, and it can be played", async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openStation(page, "trials", "?leaf=walk", "oda-delivery-2");
  await page.getByRole("button", { name: "Read the walk" }).click();
  await expect(page.getByText(/\d+ torn, \d+ moments listed/)).toBeVisible({ timeout: 90_000 });
  const first = page.locator(".row-line").first();
  await expect(first).toContainText("hair");
  await first.click();
  await expect(page).toHaveURL(/pose=/);
  await page.getByRole("group", { name: "Walk" }).getByRole("button", { name: "Play" }).click();
  await expect(page.getByRole("group", { name: "Walk" })).toContainText("2 of", { timeout: 20_000 });
  await page.getByRole("button", { name: "Pause" }).click();
  expect(errors).toEqual([]);
});

/** Reddish pixels of the stage, share of all. */
async function redOfStage(page: Page): Promise<number> {
  const { data, channels } = decode(await page.locator("section.stage canvas").screenshot());
  let red = 0;
  for (let i = 0; i < data.length; i += channels)
    if (data[i]! > 70 && data[i]! > 2 * data[i + 1]! && data[i]! > 2 * data[i + 2]!) red++;
  return red / (data.length / channels);
}

test("an OBJ comes with its library and texture: shown with both, hard edges and seams proved in the hand-off", async ({
  page,
}) => {
  const errors = watchErrors(page);
  // a post of 1.7 m: red half of the texture all round, each side flat, a seam at every edge
  const P = [-1, 1].flatMap((y) =>
    [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([x, z]) => `v ${0.2 * x!} ${0.85 + 0.85 * y} ${0.2 * z!}`),
  );
  const sides = [0, 1, 2, 3].map(
    (k) => `s ${k + 1}\nf ${k + 1}/1 ${k + 5}/2 ${((k + 1) % 4) + 5}/3 ${((k + 1) % 4) + 1}/4`,
  );
  const obj = [
    "mtllib post.mtl",
    ...P,
    "vt 0.1 0.1",
    "vt 0.1 0.9",
    "vt 0.4 0.9",
    "vt 0.4 0.1",
    "vt 0.9 0.5",
    "usemtl paint",
    ...sides,
    "s 5",
    "f 4/5 3/5 2/5 1/5",
    "s 6",
    "f 5/5 6/5 7/5 8/5",
  ].join("\n");
  const pixels = Uint8Array.from({ length: 3 * 64 }, (_, i) => (i % 3 === 0 ? ((i / 3) % 8 < 4 ? 200 : 20) : 20));
  await page.goto("/");
  await page.getByLabel("Files: Take in a delivery").setInputFiles([
    {
      name: "paint.png",
      mimeType: "image/png",
      buffer: Buffer.from(encode({ width: 8, height: 8, data: pixels, channels: 3, depth: 8 })),
    },
    { name: "post.obj", mimeType: "model/obj", buffer: Buffer.from(obj) },
    { name: "post.mtl", mimeType: "text/plain", buffer: Buffer.from("newmtl paint\nKd 1 1 1\nmap_Kd paint.png\n") },
  ]);
  await page.getByRole("button", { name: "Take in 3 files" }).click();
  await expect(page).toHaveURL(/\/c\/post/, { timeout: 60_000 });
  await expect(page.locator("html")).toHaveAttribute("data-stage", "drawn", { timeout: 40_000 });
  await expect.poll(() => redOfStage(page), { timeout: 20_000 }).toBeGreaterThan(0.02);
  await page.getByRole("button", { name: "clay" }).click();
  await expect.poll(() => redOfStage(page)).toBeLessThan(0.001);
  await page.getByRole("link", { name: /Hand-off/ }).click();
  await page.getByRole("button", { name: "Write and prove" }).click();
  const slip = page.getByRole("article", { name: "Receipt of version 1" });
  await expect(slip.getByText("Read back and found the same.")).toBeVisible({ timeout: 60_000 });
  const out = page.waitForEvent("download");
  await slip.getByRole("link", { name: "Download GLB" }).click();
  const back = (await readGlb(new Uint8Array(readFileSync((await (await out).path())!)), "post.glb")).parts[0]!;
  expect(back.positions.length).toBe(24);
  expect([...groupOfEachFace(back)!]).toEqual([1, 2, 3, 4, 5, 6]);
  expect(back.cornerLook!.uvs!.length).toBe(48);
  expect(errors).toEqual([]);
});
