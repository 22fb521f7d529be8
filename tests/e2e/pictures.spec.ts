import { build, type Rollup } from "vite";
import type { Ball, Difference } from "../helpers/drawnTwice";
import { expect, test } from "./browserTest";

/** The comparison as one script for a page. */
async function bundled(): Promise<string> {
  const folder = (name: string): string => new URL(`../../${name}`, import.meta.url).pathname;
  const [output] = (await build({
    configFile: false,
    logLevel: "error",
    resolve: { alias: { "~core": folder("core"), "~jobs": folder("jobs"), "~workers": folder("workers") } },
    build: { write: false, lib: { entry: folder("tests/helpers/drawnTwice.ts"), formats: ["iife"], name: "twice" } },
  })) as Rollup.RollupOutput[];
  return output!.output[0].code;
}

test("small pictures look as three.js draws the same on WebGL", async ({ page }) => {
  await page.goto("about:blank");
  await page.addScriptTag({ content: await bundled() });
  const differenceOf = (ball: Ball): Promise<Difference> =>
    page.evaluate((b) => (globalThis as unknown as { drawnTwice: (of: Ball) => Difference }).drawnTwice(b), ball);
  const matt = { color: [0.6, 0.4, 0.3], roughness: 1, metalness: 0 } as const;
  const balls: readonly Ball[] = [
    matt,
    { ...matt, roughness: 0.4 },
    { ...matt, roughness: 0.4, metalness: 1 },
    { ...matt, base: true },
    { ...matt, roughness: 0.5, base: true, bumps: true },
  ];
  for (const ball of balls) {
    const { mean, most, outline, pixels } = await differenceOf(ball);
    expect(pixels).toBeGreaterThan(8000);
    // corners stand on slightly other grids: single pixels of the outline
    expect(outline).toBeLessThan(0.01 * pixels);
    // what metal throws back more than once between its own bumps is left out here
    expect(mean, JSON.stringify(ball)).toBeLessThan(ball.metalness ? 5 : 1.2);
    if (!ball.metalness) expect(most, JSON.stringify(ball)).toBeLessThan(16);
  }
});

test("the proof draws its pictures where the browser has no WebGL at all", async ({ page }) => {
  await page.addInitScript(() => {
    const real = HTMLCanvasElement.prototype.getContext;
    HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement, kind: string, ...rest: unknown[]) {
      return kind.startsWith("webgl") ? null : (real.call(this, kind as "2d", ...(rest as [])) as never);
    } as never;
  });
  await page.goto("/c/oda/shapes");
  await expect.poll(() => page.locator(".thumb img").count()).toBeGreaterThan(8);
  const shown = await page
    .locator(".thumb img")
    .first()
    .evaluate((img: HTMLImageElement) => [img.naturalWidth, img.naturalHeight]);
  expect(shown).toEqual([248, 224]);
  await expect(page.getByRole("region", { name: "Stage" }).getByRole("alert")).toContainText("offers no WebGL");
});
