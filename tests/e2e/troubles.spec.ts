import { writeFileSync } from "node:fs";
import { expect, test, type Page } from "./browserTest";
import { writeGlb } from "../../core/formats/glb/writeGlb";
import { writeObj } from "../../core/formats/obj/writeObj";
import { glbOf, jsonOf } from "../helpers/glb";
import { tube } from "../helpers/characters";
import { choose, killDatabase, openStation, watchErrors } from "./app";

const limb = tube();
const obj = writeObj(limb, [limb.parts[0]!.positions]);

test.describe("deliveries that are not right", () => {
  const spoilt = (spoil: (g: ReturnType<typeof jsonOf>) => void): Uint8Array => {
    const g = jsonOf();
    spoil(g);
    return glbOf(g.json, g.binary);
  };
  const cases: [string, () => Promise<[string, Uint8Array | string][]>, RegExp][] = [
    ["cut short", async () => [["cut.glb", (await writeGlb(limb)).slice(0, 900)]], /cut short/],
    ["something else", async () => [["picture.glb", "GIF89a........................"]], /not a GLB/],
    ["another kind of file", async () => [["notes.txt", "hello"]], /\.txt are not read/],
    [
      "not a number",
      async () => [["nan.glb", spoilt((g) => new Float32Array(g.binary.buffer, 0, 1).set([NaN]))]],
      /number|finite/,
    ],
    [
      "joints in a loop",
      async () => [
        [
          "loop.glb",
          spoilt((g) => (g.json.nodes = [{ mesh: 0, children: [1] }, { children: [2] }, { children: [1] }])),
        ],
      ],
      /two parents|loop|ancestor/,
    ],
    [
      "more elements than bytes",
      async () => [["count.glb", spoilt((g) => (g.json.accessors[0]!.count = 100000))]],
      /need .* bytes/,
    ],
    [
      "a target of another mesh",
      async () => [
        ["base.obj", obj],
        ["smile.obj", `${obj}v 1 1 1\n`],
      ],
      /vertices; the base has/,
    ],
  ];
  // one page for all of them: nothing that went wrong before may stand in the way of the next
  test.describe.configure({ mode: "serial" });
  let page: Page;
  let errors: string[];
  let cards = 0;
  test.beforeAll(async ({ profile }) => {
    page = await profile.newPage();
    errors = watchErrors(page);
    await page.goto("/");
    await page.waitForLoadState("networkidle");
    cards = await page.getByRole("article").count();
  });
  test.afterAll(async () => page.close());
  for (const [what, make, pattern] of cases)
    test(`say what, where and what to do, and store nothing: ${what}`, async ({}, info) => {
      const files = (await make()).map(([name, content]) => {
        const file = info.outputPath(name);
        writeFileSync(file, content);
        return file;
      });
      await page.getByLabel("Files: Take in a delivery").setInputFiles(files);
      if (files.length > 1) await page.getByRole("button", { name: `Take in ${files.length} files` }).click();
      const alert = page.getByRole("alert");
      await expect(alert).toContainText(pattern, { timeout: 30_000 });
      await expect(alert).toContainText("Not taken in");
      await expect(alert).not.toContainText(/at .*\.ts|undefined|Error:/);
      await expect(page.getByRole("article")).toHaveCount(cards);
      expect(errors).toEqual([]);
    });
  test("and nothing is there after a reload either", async () => {
    await page.reload();
    await expect(page.getByRole("article")).toHaveCount(cards);
  });
  test("over the limit are refused before they are sent", async ({}, info) => {
    const file = info.outputPath("huge.glb");
    writeFileSync(file, new Uint8Array(45 * 1024 * 1024));
    let sent = false;
    page.on("request", (r) => (sent ||= r.url().includes("/api/deliveries")));
    await page.getByLabel("Files: Take in a delivery").setInputFiles(file);
    await expect(page.getByRole("alert")).toContainText(/up to 40 MB/);
    expect(sent).toBe(false);
  });
});

test("a good delivery is taken in, shows at every station, and can be deleted", async ({ page }, info) => {
  const errors = watchErrors(page);
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  const odd = info.outputPath("limb 😀 'quoted'.glb");
  writeFileSync(odd, await writeGlb(limb));
  await page.getByLabel("Files: Take in a delivery").setInputFiles(odd);
  await expect(page).toHaveURL(/\/c\/limb[^/]*\/intake/, { timeout: 30_000 });
  await expect(page.getByText(/Required humanoid|No joint is mapped/).first()).toBeVisible();
  for (const station of ["Skeleton", "Shapes", "Correctives", "Trials", "Hand-off"]) {
    await page
      .getByRole("navigation", { name: "Stations" })
      .getByRole("link", { name: new RegExp(station) })
      .click();
    await expect(page.getByRole("heading", { level: 1, name: station })).toBeVisible();
  }
  await page.getByRole("link", { name: /to the cast/ }).click();
  await page.getByRole("button", { name: /Delete limb/ }).click();
  await page.getByRole("button", { name: "Delete for good" }).click();
  await expect(page.getByRole("article", { name: /limb/ })).toHaveCount(0);
  expect(errors).toEqual([]);
});

test("an OBJ base with targets is taken in", async ({ page }, info) => {
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  const [base, target] = [info.outputPath("neutral.obj"), info.outputPath("bulge.obj")];
  writeFileSync(base, obj);
  writeFileSync(target, writeObj(limb, [limb.parts[0]!.positions.map((x, i) => (i % 300 === 4 ? x + 0.01 : x))]));
  await page.getByLabel("Files: Take in a delivery").setInputFiles([target, base]);
  await expect(page.getByRole("row", { name: /neutral\.obj/ })).toContainText("the character");
  await page.getByRole("button", { name: "Take in 2 files" }).click();
  await expect(page).toHaveURL(/\/c\/neutral[^/]*\/intake/, { timeout: 30_000 });
  await page
    .getByRole("navigation", { name: "Stations" })
    .getByRole("link", { name: /Shapes/ })
    .click();
  await expect(page.getByText("1 shape,")).toBeVisible();
  await expect(page.getByRole("button", { name: /^bulge/ })).toBeVisible();
  await page.goto("/");
  await page.getByRole("button", { name: /Delete neutral/ }).click();
  await page.getByRole("button", { name: "Delete for good" }).click();
});

test("of files that come together, what each is can be set right before they are sent", async ({ page }, info) => {
  const errors = watchErrors(page);
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  const [base, other, notes] = ["neutral.obj", "torso.obj", "notes.txt"].map((f) => info.outputPath(f)) as [
    string,
    string,
    string,
  ];
  for (const f of [base, other]) writeFileSync(f, obj);
  writeFileSync(notes, "hello");
  await page.getByLabel("Files: Take in a delivery").setInputFiles([base, other, notes]);
  const taken = (file: string, role: string): Promise<void> =>
    choose(page, page.getByRole("row", { name: new RegExp(file) }), role);
  await expect(page.getByRole("row", { name: /notes\.txt/ })).toContainText("left out");
  await taken("neutral", "left out");
  await expect(page.getByRole("button", { name: "Take in 1 file" })).toBeDisabled();
  await taken("torso", "the character");
  await page.getByRole("button", { name: "Take in 1 file" }).click();
  await expect(page).toHaveURL(/\/c\/torso[^/]*\/intake/, { timeout: 30_000 });
  await page.goto("/");
  await page.getByRole("button", { name: /Delete torso/ }).click();
  await page.getByRole("button", { name: "Delete for good" }).click();
  expect(errors).toEqual([]);
});

test("a character comes also where the code of its workers takes long to be ready", async ({ page }) => {
  let slowed = 0;
  await page.context().route("**/assets/*.js", async (route) => {
    const response = await route.fetch();
    const code = await response.text();
    const slow = code.replaceAll(
      /;await (\w+)\.ready;/g,
      ";await new Promise((r) => setTimeout(r, 700));await $1.ready;",
    );
    if (slow !== code) slowed++;
    await route.fulfill({ response, body: slow });
  });
  await openStation(page, "intake");
  expect(slowed).toBeGreaterThan(0);
  await page.context().unrouteAll({ behavior: "wait" });
});

test("an address that is not there is told in words", async ({ page }) => {
  await page.goto("/c/nobody/intake");
  await expect(page.getByRole("heading", { name: "Nothing is at this address" })).toBeVisible();
  await page.goto("/what/ever");
  await page.getByRole("link", { name: "Go to the cast" }).click();
  await expect(page.getByRole("heading", { name: "Cast" })).toBeVisible();
});

test("with the database gone an edit is kept and sent later", async ({ page }) => {
  await openStation(page, "skeleton", "?leaf=map");
  await expect(page.getByText(/of 55 mapped/)).toBeVisible();
  const before = await page.getByText(/\d+ of 55 mapped/).innerText();
  const letGo = killDatabase();
  const banner = page.getByRole("alert").filter({ hasText: "Not saved yet" });
  try {
    await choose(page, page.getByLabel("Joint for left toes").locator(".."), "none");
    await expect(banner).toContainText("out of the joint map", { timeout: 45_000 });
  } finally {
    letGo();
  }
  await page.reload().catch(() => {});
  await expect
    .poll(
      async () => {
        await page.goto("/c/oda/skeleton?leaf=map");
        return banner.waitFor({ timeout: 3000 }).then(
          () => 1,
          () => 0,
        );
      },
      { timeout: 40_000, intervals: [2000] },
    )
    .toBe(1);
  await banner.getByRole("button", { name: "Try again" }).click();
  await expect(banner).toHaveCount(0);
  await expect(page.getByText(/\d+ of 55 mapped/)).not.toHaveText(before);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText(/\d+ of 55 mapped/)).toHaveText(before);
});

test("everything can be reached by keyboard, and ? tells the keys", async ({ page }) => {
  await openStation(page, "intake");
  await page.keyboard.press("3");
  await expect(page).toHaveURL(/shapes/);
  await page.keyboard.press("w");
  await expect(page.getByRole("button", { name: "wires" })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("4");
  await expect(page.getByRole("heading", { name: "Correctives" })).toBeVisible();
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: /Keys/ })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Dark scheme" }).click();
  await expect(page.locator("html")).toHaveAttribute("data-scheme", "dark");
});
