import { defineConfig } from "@playwright/test";

const port = Number(process.env["YXOMORPH_TEST_PORT"] ?? 4191);

/** The built application with a database of its own, driven in Debian's headless Chromium. */
export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results/browser",
  timeout: 180_000,
  expect: { timeout: 15_000 },
  workers: 1,
  // on a busy machine a page may be drawn anew under the pointer: such a test is run once more, and told as flaky
  retries: 1,
  fullyParallel: false,
  use: {
    baseURL: `http://127.0.0.1:${port}`,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium-headless-shell",
      args: [
        "--no-sandbox",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
  globalSetup: "./tests/e2e/startServer.ts",
});
