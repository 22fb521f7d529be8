import { test as base, type APIRequestContext, type BrowserContext } from "@playwright/test";

export { expect, type Page } from "@playwright/test";

/** Steps in force of each of the demo's characters when a file of tests began, by file. */
const begun = new Map<string, ReadonlyMap<string, number>>();

async function stepsInForce(request: APIRequestContext): Promise<Map<string, number>> {
  const out = new Map<string, number>();
  for (const id of ["oda", "tarn", "wick", "oda-delivery-1"]) {
    const answer = await request.get(`/api/characters/${id}/state`);
    if (answer.ok()) out.set(id, ((await answer.json()) as { steps: unknown[] }).steps.length);
  }
  return out;
}

/** What a test that failed has left behind is taken back: the next one finds the demo as it would have. */
async function takeBack(request: APIRequestContext, to: ReadonlyMap<string, number>): Promise<void> {
  for (const [id, steps] of to) {
    const answer = await request.get(`/api/characters/${id}/state`);
    if (!answer.ok()) continue;
    const now = (await answer.json()) as { steps: unknown[]; revision: number };
    if (now.steps.length === steps) continue;
    await request.post(`/api/characters/${id}/head`, {
      data: { by: steps - now.steps.length, revision: now.revision },
    });
  }
}

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
  page: async ({ profile, baseURL, request }, use, info) => {
    if (!begun.has(info.file)) begun.set(info.file, await stepsInForce(request));
    const page = await profile.newPage();
    await use(page);
    if (info.status !== info.expectedStatus) await takeBack(request, begun.get(info.file)!);
    const devtools = await profile.newCDPSession(page);
    await devtools.send("Storage.clearDataForOrigin", {
      origin: baseURL!,
      storageTypes: "cookies,indexeddb,local_storage",
    });
    await page.close();
  },
});
