import { ODA_DELIVERY_1 } from "../../demo/faults/plantedFaults";
import { readFileSync, writeFileSync } from "node:fs";
import { expect, test } from "./browserTest";
import validator from "gltf-validator";
import { readGlb } from "../../core/formats/glb/readGlb";
import { choose, openStation, readingOf, restartApp, stroke, typeNumber, watchErrors } from "./app";

/** The rigger's way through one character, in order; each test goes on where the one before it stopped. */
test.describe.configure({ mode: "serial" });

test("the cast shows the demo character with a picture and its state", async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto("/");
  const card = page.getByRole("article", { name: "Oda", exact: true });
  await expect(card.getByText("1.68 m")).toBeVisible();
  await expect(card.getByText("105 shapes")).toBeVisible();
  const picture = card.getByRole("img", { name: /drawn from its geometry/ });
  await expect(picture).toBeVisible({ timeout: 40_000 });
  expect(await picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(200);
  for (const name of ["Tarn", "Wick", "Oda, delivery 1"])
    await expect(page.getByRole("article", { name, exact: true })).toBeVisible();
  await card.getByRole("link", { name: "Open Oda" }).click();
  await expect(page).toHaveURL(/\/c\/oda\/intake/);
  expect(errors).toEqual([]);
});

const count = (severity: string): number => ODA_DELIVERY_1.filter((f) => f.severity === severity).length;

test("intake lists findings; a button frames the place on the stage", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "intake", "", "oda-delivery-1");
  await expect(
    page.getByText(`${count("error")} errors · ${count("warn")} warnings · ${count("note")} note`),
  ).toBeVisible();
  await page.getByLabel("Find a finding, part or joint").fill("stays behind");
  const row = page.locator(".row").first();
  await row.getByRole("button").first().click();
  await row.getByRole("button", { name: "Show" }).click();
  await expect(page).toHaveURL(/w=AU43_left/); // the shape of the finding stands at full
  await expect(page).toHaveURL(/open=shapes\.followers/);
  await page.getByRole("button", { name: "Parts", exact: true }).click();
  await expect(page.getByRole("button", { name: /^tongue/ })).toBeVisible();
  await page.getByRole("button", { name: "Report" }).click();
  await expect(page.getByText("1.680 m")).toBeVisible();
  await expect(page.getByText("oda-delivery-1.glb").first()).toBeVisible();
  expect(errors).toEqual([]);
});

test("a finding can be accepted with a reason, and undone", async ({ page }) => {
  await openStation(page, "intake", "", "oda-delivery-1");
  const open = page.getByText(/\d+ errors? · \d+ warnings?/);
  const before = await open.innerText();
  const row = page.locator("[data-finding]").first();
  await row.getByRole("button").first().click();
  await expect(row.getByRole("button", { name: "Accept" })).toBeDisabled();
  await row.getByLabel("Reason it may stay").fill("seen and meant");
  await row.getByRole("button", { name: "Accept" }).click();
  await expect(page.getByText("Reason: seen and meant")).toBeVisible();
  await expect(open).not.toHaveText(before);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Reason: seen and meant")).toHaveCount(0);
  await expect(open).toHaveText(before);
});

test("faults with a safe repair are mended with one click each, counted anew, and undone", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "intake", "", "oda-delivery-1");
  const open = page.getByText(/\d+ errors? · \d+ warnings?/);
  const before = await open.innerText();
  const mendOne = async (words: string, preview: RegExp): Promise<void> => {
    await page.getByLabel("Find a finding, part or joint").fill(words);
    const row = page.locator(".row").first();
    await row.getByRole("button").first().click();
    await expect(row.getByText(preview)).toBeVisible();
    await row.getByRole("button", { name: "Mend" }).click();
    await expect(page.getByText("Nothing matches.")).toBeVisible({ timeout: 60_000 });
  };
  await mendOne("vertices in no face", /Removes the vertices of body that no face uses/);
  await mendOne("lashes left stays behind", /movement of the skin next to it in AU43_left/);
  await expect(page.getByText("step 2/2")).toBeVisible();
  await expect(open).not.toHaveText(before);
  for (let i = 0; i < 2; i++) {
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(page.getByText(`step ${1 - i}/2`)).toBeVisible();
  }
  await page.getByLabel("Find a finding, part or joint").fill("");
  await expect(open).toHaveText(before);
  expect(errors).toEqual([]);
});

test("skeleton: joints are mapped, bend within their limits, and show their weights", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "skeleton");
  await page.getByRole("button", { name: "Joint map" }).click();
  await expect(page.getByText("55 of 55 mapped")).toBeVisible();
  await page.getByRole("button", { name: "Joints", exact: true }).click();
  await page.getByLabel("Find a joint").fill("leftLowerLeg");
  await page.getByRole("button", { name: /leftLowerLeg/ }).click();
  await expect(page.getByRole("button", { name: "weights", exact: true })).toHaveAttribute("aria-pressed", "true");
  const ribbon = page.getByRole("slider", { name: "left lower leg bend, degrees" });
  await ribbon.focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press("ArrowRight");
  await expect(ribbon).toHaveAttribute("aria-valuenow", "20");
  await page.keyboard.press("End");
  await expect(ribbon).toHaveAttribute("aria-valuenow", "135");
  await page.keyboard.press("ArrowRight");
  await expect(ribbon).toHaveAttribute("aria-valuenow", "135");
  await expect(page).toHaveURL(/pose=leftLowerLeg/);
  await expect(page.getByText(/^stretch \d/)).toBeVisible();
  expect(errors).toEqual([]);
});

test("skeleton: a mapping set by hand is a step that can be undone", async ({ page }) => {
  await openStation(page, "skeleton", "?leaf=map");
  await choose(page, page.getByLabel("Joint for jaw").locator(".."), "none");
  await expect(page.getByText("54 of 55 mapped")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("55 of 55 mapped")).toBeVisible();
});

test("shapes: the proof draws every shape, the list sets weights", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "shapes");
  await expect(page.getByText("105 shapes,")).toBeVisible();
  await expect.poll(() => page.locator(".thumb img").count(), { timeout: 60_000 }).toBeGreaterThan(11);
  await page.getByRole("button", { name: "AU12_left, lip corner puller, left" }).click();
  await expect(page).toHaveURL(/w=AU12_left(=|%3D)1/);
  await expect(page.getByRole("heading", { name: /AU12_left/ })).toBeVisible();
  await page.getByRole("button", { name: "List", exact: true }).click();
  await typeNumber(page, "Weight of AU26", "0,6");
  await expect(page.getByRole("spinbutton", { name: "Weight of AU26" })).toHaveText("0.60");
  await page.getByRole("spinbutton", { name: "Weight of AU26" }).press("ArrowUp");
  await expect(page.getByRole("spinbutton", { name: "Weight of AU26" })).toHaveText("0.61");
  await page.getByRole("spinbutton", { name: "Weight of AU26" }).press("Backspace");
  await expect(page.getByRole("spinbutton", { name: "Weight of AU26" })).toHaveText("0.00");
  await page.getByRole("button", { name: "Reset 1" }).click();
  await expect(page).not.toHaveURL(/w=/);
  expect(errors).toEqual([]);
});

test("correctives: bend the elbow, sculpt on both sides, return to rest", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "correctives");
  await page.getByRole("button", { name: "lower arm bend" }).first().click();
  await typeNumber(page, "Angle of left lower arm bend", "120");
  await expect.poll(() => readingOf(page, "volume")).toBeLessThan(-10);
  const before = await readingOf(page, "volume");
  await page.getByRole("button", { name: "stretch", exact: true }).first().click();
  await page.getByRole("button", { name: "Sweep the whole range" }).click();
  await expect(page.getByRole("button", { name: "Sweep again" })).toBeVisible({ timeout: 40_000 });
  await page.getByRole("button", { name: "Sculpt at 120°" }).click();
  await page.getByLabel("both sides").check();
  await page.getByRole("button", { name: "bending zone" }).click();
  await typeNumber(page, "Brush radius", "45");
  for (let i = 0; i < 2; i++) await stroke(page, [0.46, 0.44], [0.52, 0.5]);
  await expect.poll(() => readingOf(page, "volume")).toBeGreaterThan(before + 0.4);
  await page.getByRole("button", { name: "Undo stroke" }).click();
  await page.getByRole("button", { name: "Redo stroke" }).click();
  await page.getByLabel("Name of the corrective").fill("left elbow flesh");
  await page.getByRole("button", { name: "Return to rest pose" }).click();
  const item = page.getByRole("group", { name: "Corrective left elbow flesh" });
  await expect(item.getByText("now at 1.00")).toBeVisible();
  await expect(page.getByText("2 correctives", { exact: false }).first()).toBeVisible(); // both sides made one each
  await expect.poll(() => readingOf(page, "volume")).toBeGreaterThan(before + 0.4);
  // off and on
  await item.getByLabel("left elbow flesh on").click();
  await expect.poll(() => readingOf(page, "volume")).toBeLessThan(before + 0.1);
  await item.getByLabel("left elbow flesh on").click();
  await expect.poll(() => readingOf(page, "volume")).toBeGreaterThan(before + 0.4);
  // its range and intensity
  await typeNumber(page, "left elbow flesh: from", "60");
  await expect(item.getByRole("img", { name: "Weight from 60 to 120 degrees" })).toBeVisible();
  await typeNumber(page, "left elbow flesh: intensity", "0.5");
  await expect(item.getByText("now at 0.50")).toBeVisible();
  await page.keyboard.press("u");
  await expect(item.getByText("now at 1.00")).toBeVisible();
  expect(errors).toEqual([]);
});

test("correctives: sculpt again, mirror, and remove", async ({ page }) => {
  await openStation(
    page,
    "correctives",
    "?open=leftLowerArm%2Fbend&pose=leftLowerArm%3D120,0,0&frame=joint+leftLowerArm&joint=leftLowerArm",
  );
  const item = page.getByRole("group", { name: "Corrective left elbow flesh" });
  await item.getByRole("button", { name: "Mirror to the other side" }).click();
  await expect(item.getByText(/right elbow flesh is there already/)).toBeVisible();
  await item.getByRole("button", { name: "Sculpt again" }).click();
  await page.getByRole("button", { name: "smooth", exact: true }).click();
  await stroke(page, [0.46, 0.44], [0.52, 0.5]);
  await page.getByRole("button", { name: "Return to rest pose" }).click();
  await expect(page.getByRole("button", { name: "Sculpt at 120°" })).toBeVisible();
  await item.getByRole("button", { name: "Remove" }).click();
  await expect(item).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(item).toBeVisible();
});

test("correctives: a posed OBJ goes out, a sculpted one comes back, a wrong one is refused", async ({ page }, info) => {
  await openStation(
    page,
    "correctives",
    "?open=rightLowerArm%2Fbend&pose=rightLowerArm%3D90,0,0&frame=joint+rightLowerArm&joint=rightLowerArm",
  );
  const out = page.waitForEvent("download");
  await page.getByRole("button", { name: "Send posed OBJ" }).click();
  const text = readFileSync((await (await out).path())!, "utf8");
  expect(text).toContain("o body");
  let v = -1;
  const sculpt = text
    .split("\n")
    .map((line) => {
      if (!line.startsWith("v ") || ++v % 700 !== 0) return line;
      const [, x, y, z] = line.split(" ").map(Number);
      return `v ${x!} ${y! + 0.002} ${z!}`;
    })
    .join("\n");
  const file = info.outputPath("right elbow.obj");
  writeFileSync(file, sculpt);
  await page.getByLabel("Sculpted OBJ of this pose").setInputFiles(file);
  await expect(
    page.getByText(
      /is back at rest\. \d+ vertices moved by up to 2\.0 mm, .* Posed again it differs from the file by up to 0\.00/,
    ),
  ).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole("group", { name: /Corrective right lower arm bend/ })).toBeVisible();
  // the same file at rest: it says which pose it is of, and one click takes it there
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect(page.getByRole("group", { name: /Corrective right lower arm bend/ })).toHaveCount(0);
  await openStation(page, "correctives", "?open=rightLowerArm%2Fbend");
  await page.getByLabel("Sculpted OBJ of this pose").setInputFiles(file);
  await expect(page.getByRole("alertdialog")).toContainText(
    /a sculpt of right lower arm bend 90: it was sent out with/,
  );
  await page.getByRole("button", { name: "Pose the figure so, and take it" }).click();
  await expect(page.getByText(/is back at rest\. \d+ vertices moved by up to 2\.0 mm/)).toBeVisible({
    timeout: 30_000,
  });
  await expect(page).toHaveURL(/pose=rightLowerArm%3D90|pose=rightLowerArm=90/);
  writeFileSync(file, "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  await page.getByLabel("Sculpted OBJ of this pose").setInputFiles(file);
  await expect(page.getByRole("alert")).toContainText(/It has 3 vertices; the posed character has/);
});

test("trials: sweeps can be cancelled and run; a click in the chart poses the stage", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "trials");
  await page.getByRole("button", { name: /^Sweep (all|the other)/ }).click();
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByLabel("Find a joint")).toBeVisible();
  await page.getByLabel("Find a joint").fill("left lower arm bend");
  await page.getByRole("button", { name: /left lower arm bend/ }).click();
  await page.getByRole("button", { name: /^Sweep( again)?$/ }).click();
  await expect(page.getByRole("button", { name: "Pose the worst" })).toBeVisible({ timeout: 40_000 });
  await expect(page.getByText("with correctives")).toBeVisible();
  // opening a swept row poses its worst moment, and the address says so
  const row = page.getByRole("button", { name: /left lower arm bend/ });
  await row.click();
  await row.click();
  await expect(page).toHaveURL(/pose=leftLowerArm/);
  await page.waitForTimeout(400);
  await expect(page).toHaveURL(/pose=leftLowerArm/);
  await expect(page.getByRole("button", { name: "left lower arm", exact: true })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  const chart = page.getByRole("img", { name: /against angle, left lower arm bend/ });
  await chart.click({ position: { x: 200, y: 40 } });
  await expect(page).toHaveURL(/pose=leftLowerArm/);
  await page.getByRole("button", { name: "Correct it" }).click();
  await expect(page).toHaveURL(/correctives.*open=leftLowerArm/);
  expect(errors).toEqual([]);
});

test("hand-off: written, read back, proved, downloaded; the validator agrees", async ({ page }) => {
  const errors = watchErrors(page);
  await openStation(page, "handoff");
  await page.getByRole("button", { name: "Write and prove" }).click();
  const slip = page.getByRole("article", { name: "Receipt of version 1" });
  await expect(slip.getByText("Read back and found the same.")).toBeVisible({ timeout: 60_000 });
  await expect(slip.getByText("0 errors, 0 warnings").first()).toBeVisible();
  const out = page.waitForEvent("download");
  await slip.getByRole("link", { name: "Download GLB" }).click();
  const bytes = new Uint8Array(readFileSync((await (await out).path())!));
  const report = await validator.validateBytes(bytes);
  expect([report.issues.numErrors, report.issues.numWarnings]).toEqual([0, 0]);
  const character = await readGlb(bytes, "oda.glb");
  expect(character.drivers.map((d) => d.shape)).toEqual(
    expect.arrayContaining(["left elbow flesh", "right elbow flesh"]),
  );
  expect(errors).toEqual([]);
});

test("the ledger lists every step and goes to any of them", async ({ page }) => {
  await openStation(page, "handoff", "?leaf=ledger");
  await expect(page.getByText("made 2 correctives left elbow flesh and right elbow flesh")).toBeVisible();
  const here = page.getByText(/(\d+) of (\d+) steps in force/);
  const full = await here.innerText();
  await page.getByRole("button", { name: "Go here" }).last().click();
  await expect(here).toHaveText(/^0 of/);
  await page.getByRole("button", { name: "Go here" }).first().click();
  await expect(here).toHaveText(full);
});

test("everything is still there after a reload and after the server was started again", async ({ page }) => {
  const query =
    "?open=leftLowerArm%2Fbend&pose=leftLowerArm%3D75,0,0&frame=joint+leftLowerArm&joint=leftLowerArm&read=stretch";
  await openStation(page, "correctives", query);
  const seen = async (): Promise<void> => {
    await expect(page.getByRole("group", { name: "Corrective left elbow flesh" })).toBeVisible();
    await expect(page.getByRole("spinbutton", { name: "Angle of left lower arm bend" })).toHaveText("75°");
    await expect(page.getByRole("button", { name: "stretch", exact: true }).first()).toHaveAttribute(
      "aria-pressed",
      "true",
    );
  };
  await seen();
  await page.reload();
  await seen();
  await restartApp();
  await openStation(page, "correctives", query);
  await seen();
  await openStation(page, "handoff", "?leaf=receipts&open=1");
  await expect(page.getByRole("article", { name: "Receipt of version 1" })).toBeVisible();
});
