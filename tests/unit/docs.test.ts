import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";

const guides = [
  "README.md",
  "CONTRIBUTING.md",
  ...readdirSync("docs")
    .filter((name) => name.endsWith(".md"))
    .map((name) => join("docs", name)),
];

/** Files and folders that a guide names between backticks, those of one room (`<room>`) and of a pattern left out. */
const named = (text: string): string[] =>
  [...text.matchAll(/`((?:src|tests|docs|demo|scripts|standins|bench)\/[\w./[\]-]+)`/g)].map(([, path]) => path!.replace(/\/$/, ""));
const linked = (text: string): string[] => [...text.matchAll(/\]\((?!https?:|#)([^)#]+)[^)]*\)/g)].map(([, path]) => path!);

describe("the guides", () => {
  it.each(guides)("%s names files that are there", (guide) => {
    const text = readFileSync(guide, "utf8");
    // The small room of the guide has the layout of the source.
    expect(named(text).filter((path) => !existsSync(path) && !existsSync(join("tests/fixtures/room", path)))).toEqual([]);
    expect(linked(text).filter((path) => !existsSync(join(guide, "..", path)))).toEqual([]);
  });
});
