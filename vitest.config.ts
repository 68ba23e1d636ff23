import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    projects: [
      { test: { name: "unit", include: ["src/**/*.test.{ts,tsx}", "standins/**/*.test.ts", "tests/unit/**/*.test.ts"], environment: "node" } },
      {
        test: {
          name: "integration",
          include: ["tests/integration/**/*.test.ts"],
          globalSetup: ["tests/support/templateDatabase.ts"],
          testTimeout: 30_000,
          hookTimeout: 60_000,
          maxWorkers: 2,
        },
      },
    ],
  },
});
