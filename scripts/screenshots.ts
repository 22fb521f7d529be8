import { chmodSync, mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { cleanTarn, loadMember, loadOda } from "../demo/cast";
import { headScan, objOf } from "../demo/scans/scanOf";
import { writeGlb } from "../core/formats/glb/writeGlb";
import { choose, openStation, startApp, stroke, typeNumber } from "../tests/e2e/app";

/** One picture of each main view at 1280 x 800, made with the real application and the demo character. */
const dir = mkdtempSync(path.join(tmpdir(), "yxomorph-shots-"));
chmodSync(dir, 0o755);
process.env["YXOMORPH_TEST_DATA"] = dir;
const app = await startApp();
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium-headless-shell",
  args: ["--no-sandbox", "--disable-quic", "--no-first-run"],
});
const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: app.url })).newPage();

const settle = (ms = 1600): Promise<void> => page.waitForTimeout(ms);
async function shot(name: string): Promise<void> {
  await settle();
  await page.screenshot({ path: path.join("docs", "screenshots", `${name}.png`) });
  process.stdout.write(`${name}\n`);
}
const elbow = "open=leftLowerArm%2Fbend&pose=leftLowerArm%3D120,0,0&frame=joint+leftLowerArm&joint=leftLowerArm";

/** Corrects the elbow over its whole motion, as a rigger would before touching it by hand. */
async function correctElbow(on: Page): Promise<void> {
  await openStation(on, "trials", "?open=leftLowerArm%2Fbend");
  await on
    .locator(".row.open")
    .getByRole("button", { name: /^Sweep/ })
    .first()
    .click();
  await on.getByRole("button", { name: /^Correct all/ }).click({ timeout: 60_000 });
  await on.locator(".row.open").getByText("Within every limit").waitFor({ timeout: 120_000 });
}

/** Lays a small crease over the bent elbow by hand. */
async function bendAndSculpt(on: Page): Promise<void> {
  await openStation(on, "correctives", `?${elbow}`);
  await on.getByRole("button", { name: "Sculpt at 120°" }).click();
  await on.getByLabel("both sides").check();
  await on.getByRole("button", { name: "bending zone" }).click();
  await typeNumber(on, "Brush radius", "30");
  await stroke(on, [0.49, 0.44], [0.5, 0.47]);
  await settle();
}

await page.goto("/");
await page
  .getByRole("img", { name: /drawn from its geometry/ })
  .nth(4)
  .waitFor({ timeout: 60_000 });
await shot("cast");
await openStation(page, "intake", "", "oda-delivery-1");
await page.getByRole("button", { name: /stays behind/ }).click();
await shot("intake");
await openStation(page, "intake", "?leaf=parts&open=hair", "wick");
await typeNumber(page, "Move along y", "-8");
await page.getByRole("group", { name: "Seat" }).getByRole("status").waitFor({ timeout: 30_000 });
await shot("repairs");
await openStation(page, "intake", "", "oda-delivery-1");
for (const words of ["vertices in no face", "lashes left stays behind", "hair hang", "says left but"]) {
  await page.getByLabel("Find a finding, part or joint").fill(words);
  const row = page.locator(".row").first();
  await row.getByRole("button").first().click();
  await row.getByRole("button", { name: "Mend" }).click();
  await page.getByText("Nothing matches.").waitFor({ timeout: 60_000 });
}
await openStation(page, "intake", "?leaf=deliveries", "oda-delivery-1");
const second = path.join(dir, "oda-delivery-2.glb");
writeFileSync(second, await writeGlb(await loadMember("oda-delivery-2")));
await page.getByLabel("Files: Take in the next delivery").setInputFiles(second);
await page.getByRole("region", { name: "Delivery oda-delivery-2.glb" }).waitFor({ timeout: 90_000 });
await settle(3000);
await shot("deliveries");
await openStation(page, "skeleton", "?leaf=weights&open=top&joint=leftUpperArm");
const weights = page.getByRole("group", { name: "Weights of top" });
await weights.getByRole("button", { name: "Measure the change" }).click();
await weights.getByRole("status").filter({ hasText: "mm" }).waitFor({ timeout: 60_000 });
await shot("weights");
await openStation(page, "skeleton");
await page.getByLabel("Find a joint").fill("Leg");
await page.getByRole("button", { name: /leftLowerLeg/ }).click();
await page.getByRole("slider", { name: "left lower leg bend, degrees" }).focus();
for (let i = 0; i < 14; i++) await page.keyboard.press("ArrowRight");
await shot("skeleton");
await openStation(page, "shapes");
await page.locator(".thumb img").nth(15).waitFor({ timeout: 60_000 });
await page.getByRole("button", { name: /^AU27,/ }).click();
await shot("shapes-proof");
await openStation(
  page,
  "shapes",
  "?leaf=list&open=AU12_left&w=AU12_left%3D0.9~AU12_right%3D0.9~AU6_left%3D0.6~AU6_right%3D0.6&frame=face",
);
await shot("shapes-list");
const scan = path.join(mkdtempSync(path.join(tmpdir(), "yxomorph-scan-")), "tarn-head.obj");
writeFileSync(scan, objOf(headScan(cleanTarn(await loadOda()))));
await openStation(page, "shapes", "?leaf=make&make=scan&frame=face");
await page.getByLabel("File: scan or sculpt").setInputFiles(scan);
await page.getByRole("button", { name: "Lay the skin on it" }).click({ timeout: 90_000 });
await page.getByText("Half of the skin lies within").waitFor({ timeout: 120_000 });
await page.getByRole("button", { name: "Take on this face" }).scrollIntoViewIfNeeded();
await shot("make");
await openStation(page, "shapes", "?leaf=list&open=happy", "wick");
await page.getByRole("button", { name: "Remove", exact: true }).click();
await page.getByRole("button", { name: "Remove happy" }).click();
await page.getByText("step 1/1").waitFor();
await openStation(page, "shapes", "?leaf=coverage&mix=happy&frame=face", "wick");
await page.getByRole("button", { name: "Begin the mix" }).click();
await page.getByRole("group", { name: "Mix happy" }).getByRole("button", { name: "Show it" }).click();
await page.getByRole("group", { name: "Mix happy" }).scrollIntoViewIfNeeded();
await shot("coverage");
await correctElbow(page);
await bendAndSculpt(page);
await shot("sculpting");
await page.getByLabel("Name of the corrective").fill("left elbow flesh");
await page.getByRole("button", { name: "Return to rest pose" }).click();
await page.getByRole("group", { name: "Corrective left elbow flesh" }).waitFor();
await page.getByRole("button", { name: "Sweep the whole range" }).click();
await page.getByRole("button", { name: "Sweep again" }).waitFor({ timeout: 60_000 });
await page.getByRole("button", { name: "volume" }).click();
await openStation(page, "correctives", "?open=leftUpperArm%2Fraise");
await page.getByRole("button", { name: /^Begin poses of/ }).click();
await page.getByRole("button", { name: "Propose over the whole swing" }).click();
await page.getByText(/were over a limit/).waitFor({ timeout: 120_000 });
await page.getByText(/were over a limit/).waitFor({ state: "hidden", timeout: 20_000 });
const poses = page.getByRole("group", { name: /^Sampled poses/ });
await poses
  .getByRole("button", { name: /^\d+° up front$/ })
  .first()
  .click();
await page.getByRole("button", { name: "left upper arm", exact: true }).click();
await poses.evaluate((e) => e.scrollIntoView({ block: "center" }));
await shot("correctives");
await openStation(page, "trials");
await page.getByRole("button", { name: /^Sweep (the other|all)/ }).click();
await page.getByRole("button", { name: "Sweep all again" }).waitFor({ timeout: 240_000 });
await page.getByRole("button", { name: /left upper leg forward/ }).click();
await shot("trials");
await openStation(page, "trials", "?leaf=pairs");
await page.getByRole("button", { name: "Read every pair" }).click();
await page.getByText(/[\d,]+ pairs, \d+ over a limit/).waitFor({ timeout: 90_000 });
await page.locator(".row-line").nth(2).click();
await shot("pairs");
await openStation(page, "trials", "?leaf=clips&open=walk&t=9.6");
await page.getByRole("button", { name: "Watch every frame" }).click();
await page.getByRole("button", { name: "Watch again" }).waitFor({ timeout: 120_000 });
await shot("clips");
await openStation(page, "trials", "?leaf=lines");
await page.getByRole("combobox", { name: "Trial on the ruler" }).click();
await page.getByRole("option", { name: "Six lines", exact: true }).first().click();
await page.getByRole("heading", { name: /^Lines: / }).waitFor({ timeout: 40_000 });
const lines = page.getByTestId("sheet");
await lines.getByRole("button", { name: /^The next boat/ }).click();
await lines.evaluate((e) => e.querySelector(".row.open")?.scrollIntoView());
await page.getByRole("slider", { name: /^Ruler/ }).focus();
for (let i = 0; i < 26; i++) await page.keyboard.press("ArrowRight");
await shot("lines");
await openStation(page, "trials", "?leaf=face");
await page.getByRole("button", { name: "Connect", exact: true }).click();
await page.getByRole("combobox", { name: "Take that the tracker plays" }).click();
await page.getByRole("option", { name: "pier rounds", exact: true }).click();
await page.getByText(/left and right are exchanged/).waitFor({ timeout: 30_000 });
await page.waitForTimeout(2000);
await shot("face");
await openStation(page, "handoff");
await page.getByRole("button", { name: "Write and prove" }).click();
await page.getByRole("article", { name: "Receipt of version 1" }).waitFor({ timeout: 60_000 });
await shot("hand-off");
await page.evaluate(() => localStorage.setItem("mui-mode", "dark"));
await bendAndSculpt(page);
await openStation(page, "skeleton", "?leaf=map");
await page.getByRole("button", { name: "Undo", exact: true }).first().click();
await settle(600);
await choose(page, page.getByLabel("Joint for left toes").locator(".."), "none");
await settle(1500);
await openStation(
  page,
  "handoff",
  "?leaf=ledger&read=stretch&pose=leftLowerArm%3D120,0,0&frame=joint+leftLowerArm&joint=leftLowerArm",
);
await page.getByRole("region", { name: "Branches" }).getByRole("button").first().click();
await shot("dark");

await browser.close();
process.kill(app.pid, "SIGTERM");
await new Promise((r) => setTimeout(r, 2500));
rmSync(dir, { recursive: true, force: true });
