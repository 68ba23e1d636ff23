import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: "unit",
          include: ["src/**/*.test.{ts,tsx}", "standins/**/*.test.ts", "tests/unit/**/*.test.ts"],
          environment: "node",
          // The core keeps no state of its own: files share one process, and every module is loaded once, not once a file.
          isolate: false,
          unstubGlobals: true,
          testTimeout: 60_000,
        },
      },
      {
        test: {
          name: "integration",
          include: ["tests/integration/**/*.test.ts"],
          globalSetup: ["tests/support/templateDatabase.ts"],
          testTimeout: 300_000,
          hookTimeout: 300_000,
          maxWorkers: 2,
          // Each file has a database of its own and ends what it started; loading the server once a file would cost more than many of the tests.
          isolate: false,
        },
      },
    ],
  },
});
