import type { Page } from "@playwright/test";
import { watchErrors } from "./app";
import { expect, test } from "./browserTest";

/** Stops of the Tab key that are looked at on each view. */
const STOPS = 30;

/**
 * Walks on with Tab and compares how what is focused, and what holds it, looks with and without the focus.
 * @returns names of stops that look the same, and how many there were.
 */
async function unseenStops(page: Page): Promise<{ unseen: string[]; stops: number }> {
  const unseen: string[] = [];
  let stops = 0;
  for (let i = 0; i < STOPS; i++) {
    await page.keyboard.press("Tab");
    const stop = await page.evaluate(() => {
      const focused = document.activeElement as HTMLElement | null;
      if (!focused || focused === document.body) return null;
      const look = (): string => {
        const of: (Element | null)[] = [focused, focused.parentElement, focused.parentElement?.parentElement ?? null];
        // fields show it on the frame that lies over them
        of.push(...(focused.parentElement?.querySelectorAll("fieldset") ?? []));
        return of
          .map((e) => {
            if (!e) return "";
            const s = getComputedStyle(e);
            return [
              s.outlineStyle,
              s.outlineWidth,
              s.outlineColor,
              s.boxShadow,
              s.backgroundColor,
              s.borderColor,
            ].join();
          })
          .join("|");
      };
      const name = `${focused.tagName.toLowerCase()} ${focused.getAttribute("aria-label") ?? focused.textContent?.trim().slice(0, 40)}`;
      const withFocus = look();
      focused.blur();
      const without = look();
      focused.focus();
      return { name, seen: withFocus !== without };
    });
    if (!stop) break;
    stops++;
    if (!stop.seen) unseen.push(stop.name);
  }
  return { unseen, stops };
}

test("the keyboard's focus is seen at every stop", async ({ page }) => {
  const errors = watchErrors(page);
  // what a change glides through is not what it comes to
  await page.emulateMedia({ reducedMotion: "reduce" });
  for (const view of [
    "intake?leaf=parts",
    "skeleton",
    "skeleton?leaf=rest",
    "shapes?leaf=list",
    "shapes?leaf=make",
    "correctives",
    "trials?leaf=lines",
    "trials?leaf=pairs",
    "handoff",
  ]) {
    await page.goto(`/c/wick/${view}`);
    await expect(page.locator("html")).toHaveAttribute("data-stage", "drawn", { timeout: 60_000 });
    const { unseen, stops } = await unseenStops(page);
    expect(stops, view).toBeGreaterThan(15);
    expect(unseen, view).toEqual([]);
  }
  // and the reading sees where it is missing
  await page.addStyleTag({ content: "* { outline: none !important; box-shadow: none !important }" });
  expect((await unseenStops(page)).unseen.length).toBeGreaterThan(0);
  expect(errors).toEqual([]);
});
