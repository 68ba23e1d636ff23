// `npm run mutate`: breaks lines of the core one by one and asks whether a unit test notices. The rooms that count money
// and time come first. What was found is kept, so that the next run tries only what has changed.
export default {
  testRunner: "vitest",
  vitest: { configFile: "tests/support/mutation.config.ts" },
  plugins: ["@stryker-mutator/vitest-runner"],
  mutate: ["src/core/{money,offers,launch}/**/*.ts", "!src/core/**/*.test.ts", "!src/core/**/index.ts"],
  coverageAnalysis: "perTest",
  // Wording is looked at on screens; what it says of money and time is asked by tests that name it.
  mutator: { excludedMutations: ["StringLiteral", "Regex"] },
  ignoreStatic: true,
  incremental: true,
  incrementalFile: ".data/mutation/incremental.json",
  reporters: ["clear-text", "progress-append-only", "json"],
  jsonReporter: { fileName: ".data/mutation/report.json" },
  clearTextReporter: { allowColor: false, reportTests: false, logTests: false },
  thresholds: { high: 90, low: 80, break: 80 },
  tempDirName: ".data/mutation/sandbox",
  ignorePatterns: ["dist", ".astro", "docs", "public", ".data"],
  concurrency: 2,
  timeoutMS: 20_000,
};
