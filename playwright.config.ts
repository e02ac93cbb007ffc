import { defineConfig } from "@playwright/test";
import { CHROMIUM_FLAGS } from "./tools/chromium-flags.mjs";

const chromium = process.env.CHROMIUM_PATH ?? "/usr/bin/chromium";

export default defineConfig({
  testDir: "tests/e2e",
  outputDir: "test-results/browser",
  // Waits end with the event they wait for; the limits only bound a test that hangs, also on a machine that is busy.
  timeout: 180_000,
  expect: { timeout: 45_000 },
  workers: 2,
  retries: 0,
  forbidOnly: true,
  reporter: [["list"], ["json", { outputFile: "test-results/reports/browser.json" }]],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: "only-on-failure",
    launchOptions: {
      executablePath: chromium,
      args: CHROMIUM_FLAGS,
    },
  },
});
