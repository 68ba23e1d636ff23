import { mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";

/** A small state kept in one JSON file: a stand-in remembers across restarts, and a crash leaves the old file or the new. */
export class Store<T extends object> {
  readonly state: T;
  constructor(
    private readonly file: string,
    empty: T,
  ) {
    mkdirSync(dirname(file), { recursive: true });
    try {
      this.state = { ...empty, ...(JSON.parse(readFileSync(file, "utf8")) as T) };
    } catch {
      this.state = empty;
    }
  }

  save(): void {
    writeFileSync(`${this.file}.new`, JSON.stringify(this.state));
    renameSync(`${this.file}.new`, this.file);
  }
}

/** A setting from the environment; ends the process with its name where it is missing. */
export const setting = (name: string): string => {
  const value = process.env[name];
  if (!value) {
    console.error(`${name} is not set`);
    process.exit(1);
  }
  return value;
};
