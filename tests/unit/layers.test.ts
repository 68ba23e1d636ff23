import { mkdtempSync, writeFileSync, mkdirSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
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

  // A file that breaks a rule, what it says, and the rule. All of them are looked through at once.
  const planted = [
    ["src/core/money/planted.ts", 'export { orm } from "../../store/orm";', "core imports nothing of ours"],
    ["src/contract/planted.ts", 'export { orm } from "../store/orm";', "the contract knows core alone"],
    ["src/ui/kit/planted.ts", 'export { orm } from "../../store/orm";', "ui talks to endpoints"],
    ["src/store/planted.ts", 'export { App } from "../server/platform";', "store knows core alone"],
    ["src/jobs/planted.ts", 'export { orm } from "../server/pages/media";', "server rooms are entered by their door"],
    ["src/server/money/planted.ts", 'export { orm } from "../pages/media";', "server rooms are entered by their door"],
    [
      "src/server/people/index.ts",
      'import type { orm } from "../offers";\nexport type Mine = typeof orm;',
      "server rooms know one another one way, types too",
    ],
  ] as const;
  let found: { from: string; to: string; rule: { name: string } }[] = [];
  beforeAll(() => {
    const folder = mkdtempSync(join(tmpdir(), "layers-"));
    const answer = "export const orm = 1; export const App = 1;";
    const files = [
      ...planted,
      ["src/store/orm.ts", answer],
      ["src/server/platform/index.ts", answer],
      ["src/server/pages/media.ts", answer],
      ["src/server/offers/index.ts", 'export const orm = 1;\nexport type { Mine } from "../people";'],
      ["tsconfig.json", "{}"],
    ] as const;
    for (const [path, text] of files) {
      mkdirSync(join(folder, path, ".."), { recursive: true });
      writeFileSync(join(folder, path), text);
    }
    const cruise = join(root, "node_modules/dependency-cruiser/bin/dependency-cruise.mjs");
    const result = spawnSync(process.execPath, [cruise, "src", "--config", join(root, ".dependency-cruiser.cjs"), "--output-type", "json"], {
      cwd: folder,
      encoding: "utf8",
    });
    found = (JSON.parse(result.stdout) as { summary: { violations: typeof found } }).summary.violations;
  }, 30_000);

  it.each(planted)("in %s is checked: a planted violation is found", (file, _, rule) => {
    // A circle may be told from either of its ends.
    expect(found.filter(({ from, to }) => from === file || to === file).map(({ rule: { name } }) => name)).toContain(rule);
  });
  it("is kept by files that break no rule", () => {
    expect(found.map(({ from }) => from)).not.toContain("src/server/pages/media.ts");
  });
});
