import { test as base, type BrowserContext } from "@playwright/test";

export { expect, type Page } from "@playwright/test";

/**
 * Browser tests share one profile, as one user's visits do: programs and compiled code stay in its cache, so that a
 * page opens in two thirds of the time. What a visit stores is cleared after each test.
 */
export const test = base.extend<object, { profile: BrowserContext }>({
  profile: [
    async ({ browser }, use, { project }) => {
      const { viewport, baseURL } = project.use;
      const profile = await browser.newContext({
        ...(viewport === undefined ? {} : { viewport }),
        ...(baseURL === undefined ? {} : { baseURL }),
      });
      await use(profile);
      await profile.close();
    },
    { scope: "worker" },
  ],
  page: async ({ profile, baseURL }, use) => {
    const page = await profile.newPage();
    await use(page);
    const devtools = await profile.newCDPSession(page);
    await devtools.send("Storage.clearDataForOrigin", {
      origin: baseURL!,
      storageTypes: "cookies,indexeddb,local_storage",
    });
    await page.close();
  },
});
