import { mkdtempSync, writeFileSync, mkdirSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { forbiddenImports } from "../../scripts/lib/astroImports.mjs";
import { root } from "../../scripts/lib/run.mjs";

describe("the direction of imports", () => {
  it("in .astro files is checked: a planted violation is found", () => {
    const planted = 'import { orm } from "../../store/orm";\nimport { Worker } from "../../jobs/worker";';
    expect(forbiddenImports("src/ui/kit/Planted.astro", planted)).toEqual(["src/store/orm", "src/jobs/worker"]);
    expect(forbiddenImports("src/pages/desk/planted.astro", planted)).toEqual(["src/jobs/worker"]);
    expect(forbiddenImports("src/pages/desk/planted.astro", 'import { a } from "../../server/platform";')).toEqual([]);
    expect(forbiddenImports("src/pages/desk/planted.astro", 'import { a } from "../../server/pages/media";')).toEqual(["src/server/pages/media"]);
  });

  it.each([
    ["src/core/money/planted.ts", 'export { orm } from "../../store/orm";', "src/store/orm.ts", "core imports nothing of ours"],
    ["src/ui/kit/planted.ts", 'export { orm } from "../../store/orm";', "src/store/orm.ts", "ui talks to endpoints"],
    ["src/store/planted.ts", 'export { App } from "../server/platform";', "src/server/platform/index.ts", "store knows core alone"],
    ["src/jobs/planted.ts", 'export { orm } from "../server/pages/media";', "src/server/pages/media.ts", "server rooms are entered by their door"],
    ["src/server/money/planted.ts", 'export { orm } from "../pages/media";', "src/server/pages/media.ts", "server rooms are entered by their door"],
    [
      "src/server/money/planted.ts",
      'import type { orm } from "../pages";\nexport type Mine = typeof orm;',
      "src/server/pages/index.ts",
      "server rooms know one another one way, types too",
      'export const orm = 1;\nexport type { Mine } from "../money/planted";',
    ],
  ])(
    "in %s is checked: a planted violation is found",
    (file, source, target, rule, answer = "export const orm = 1; export const App = 1;") => {
      const folder = mkdtempSync(join(tmpdir(), "layers-"));
      for (const [path, text] of [
        [file, source],
        [target, answer],
      ] as const) {
        mkdirSync(join(folder, path, ".."), { recursive: true });
        writeFileSync(join(folder, path), text);
      }
      writeFileSync(join(folder, "tsconfig.json"), "{}");
      const cruise = join(root, "node_modules/dependency-cruiser/bin/dependency-cruise.mjs");
      const result = spawnSync(process.execPath, [cruise, "src", "--config", join(root, ".dependency-cruiser.cjs")], {
        cwd: folder,
        encoding: "utf8",
      });
      expect(result.status).not.toBe(0);
      expect(result.stdout).toContain(rule);
    },
    30_000,
  );
});
