// One room of the core for `npm run mutate`. What was found is kept, so that the next run tries only what has changed.
const room = process.env.MUTATED_ROOM ?? "money";

export default {
  testRunner: "vitest",
  vitest: { configFile: "tests/support/mutation.config.ts" },
  plugins: ["@stryker-mutator/vitest-runner"],
  mutate: [`src/core/${room}/**/*.ts`, "!src/core/**/*.test.ts", "!src/core/**/index.ts"],
  coverageAnalysis: "perTest",
  // Wording is looked at on screens; what it says of money and time is asked by tests that name it.
  mutator: { excludedMutations: ["StringLiteral", "Regex"] },
  ignoreStatic: true,
  incremental: true,
  incrementalFile: `.data/mutation/${room}.incremental.json`,
  reporters: ["clear-text", "progress-append-only", "json"],
  jsonReporter: { fileName: `.data/mutation/${room}.report.json` },
  clearTextReporter: { allowColor: false, reportTests: false, logTests: false },
  thresholds: { high: 90, low: 80, break: 80 },
  tempDirName: ".data/mutation/sandbox",
  ignorePatterns: ["dist", ".astro", "docs", "public", ".data"],
  concurrency: 2,
  timeoutMS: 4_000,
};
