import { defineConfig } from "vitest/config";

/** The unit tests of the core alone, for mutation testing. */
export default defineConfig({ test: { include: ["src/core/**/*.test.ts"], environment: "node", setupFiles: ["tests/support/mutation.setup.ts"] } });
