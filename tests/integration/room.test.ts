import { execFile } from "node:child_process";
import { rmSync } from "node:fs";
import { promisify } from "node:util";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { copyWithRoom, entered, roomEntries } from "../support/roomFixture";

const run = promisify(execFile);

describe("a small room that is added as the guide says", () => {
  let folder: string;
  beforeAll(() => {
    folder = copyWithRoom();
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));
  const node = (tool: string, args: string[]) =>
    run(process.execPath, [join(folder, "node_modules", tool), ...args], {
      cwd: folder,
      env: { ...process.env, TEST_TEMPLATE: "ink_bell_room_template" },
    }).then(
      () => "",
      (error: { stdout: string; stderr: string }) => `${error.stdout}\n${error.stderr}`,
    );

  it("needs no more than its entries: the compiler finds nothing missing, and its own tests pass", async () => {
    const [types, tests] = await Promise.all([
      node("typescript/bin/tsc", ["--noEmit"]),
      node("vitest/vitest.mjs", ["run", "--project", "integration", "tests/integration/questions.test.ts"]),
    ]);
    expect(types).toBe("");
    expect(tests).toBe("");
  }, 300_000);

  it("makes each entry beside a line that stands there once", () => {
    expect(roomEntries().length).toBeGreaterThan(10);
    const one = { list: "a.ts", after: "const list = [", add: "  it," };
    expect(entered("const list = [\n];\n", one)).toBe("const list = [\n  it,\n];\n");
    expect(entered("const list = [\n];\n", { list: "a.ts", before: "];", add: "  it," })).toBe("const list = [\n  it,\n];\n");
    expect(() => entered("const other = [\n];\n", one)).toThrow('a.ts: expected the line "const list = [" once');
    expect(() => entered("const list = [\nconst list = [\n", one)).toThrow("once");
  });
});
