import { defineConfig } from "@playwright/test";
import { chromiumOptions } from "./tests/support/chromium";

export default defineConfig({
  testDir: "tests/browser",
  // One app and one clock serve all files: they must not move it under one another.
  workers: 1,
  fullyParallel: false,
  // Long enough for a machine that others use as well.
  timeout: 900_000,
  expect: { timeout: 60_000 },
  reporter: [["list"]],
  outputDir: ".data/test-results",
  globalSetup: "./tests/support/browserStack.ts",
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: chromiumOptions,
    trace: "off",
  },
});
