import { defineConfig } from "@playwright/test";
import { chromiumOptions } from "./tests/support/chromium";

export default defineConfig({
  testDir: "tests/browser",
  // One app and one clock serve all files: they must not move it under one another.
  workers: 1,
  fullyParallel: false,
  timeout: 120_000,
  expect: { timeout: 10_000 },
  reporter: [["list"]],
  outputDir: ".data/test-results",
  globalSetup: "./tests/support/browserStack.ts",
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: chromiumOptions,
    trace: "off",
  },
});
