import { cpSync, mkdtempSync, readFileSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { z } from "zod";
import { root } from "../../scripts/lib/run.mjs";

/** A line or more for a list of the source: after or before a line that stands there, or at the end of the file. */
const entry = z.object({ list: z.string(), after: z.string().optional(), before: z.string().optional(), add: z.string() });
export type Entry = z.infer<typeof entry>;

const fixture = join(root, "tests/fixtures/room");
/** The entries that the small room makes in the lists of the source. */
export const roomEntries = (): Entry[] => z.array(entry).parse(JSON.parse(readFileSync(join(fixture, "entries.json"), "utf8")));

/** Makes an entry in a text; an error where the line that it stands beside is not there, or is there twice. */
export const entered = (text: string, { list, after, before, add }: Entry): string => {
  const beside = after ?? before;
  if (beside === undefined) return `${text}${add}\n`;
  const lines = text.split("\n");
  const at = lines.indexOf(beside);
  if (at < 0 || lines.lastIndexOf(beside) !== at) throw new Error(`${list}: expected the line "${beside}" once`);
  return lines.toSpliced(after === undefined ? at : at + 1, 0, add).join("\n");
};

/** A copy of the source with the small room in it, as somebody would add it who follows the guide. */
export const copyWithRoom = (): string => {
  const folder = mkdtempSync(join(tmpdir(), "ink-bell-room-"));
  for (const part of ["src", "standins", "scripts", "demo", "tests/support", "package.json", "tsconfig.json", "vitest.config.ts", ".astro"])
    cpSync(join(root, part), join(folder, part), { recursive: true });
  symlinkSync(join(root, "node_modules"), join(folder, "node_modules"));
  for (const part of ["src", "tests"]) cpSync(join(fixture, part), join(folder, part), { recursive: true });
  for (const one of roomEntries()) {
    const path = join(folder, one.list);
    writeFileSync(path, entered(readFileSync(path, "utf8"), one));
  }
  return folder;
};
