import { z } from "zod";
import { importChoices, importCounts, importStates } from "../core/people";
import { get, post, postFile } from "./endpoint";

/** A file of people: how it is read, how far it has come, and what came of it. */
export const importRecord = z.object({
  id: z.string(),
  file: z.string(),
  at: z.coerce.date(),
  /** The heads of its columns. */
  titles: z.array(z.string()),
  lines: z.number(),
  /** Whether it is UTF-8; else it was read as Windows-1252. */
  utf8: z.boolean(),
  /** Its first lines. */
  sample: z.array(z.array(z.string())),
  /** How it is read; guessed from the heads until somebody has said so. */
  choices: z.object({
    ...importChoices.shape,
  }),
  state: z.enum(importStates),
  /** Lines that were gone through. */
  done: z.number(),
  counts: importCounts,
  /** The first of those lines that were refused, with the heads of the columns that are at fault. */
  refused: z.array(z.object({ line: z.number(), faults: z.array(z.object({ column: z.string(), says: z.string() })) })),
});
export type ImportRecord = z.infer<typeof importRecord>;

/** Takes a file of people in under the name that it has; nobody is changed by it. */
export const startImport = postFile("people/imports", {
  permission: "person.import",
  request: z.object({ name: z.string().max(200).default("people.csv") }),
  answer: z.object({ id: z.string() }),
});
export const readImport = get("people/imports/[id]", { permission: "person.import", answer: importRecord });
/** Says how a file is read, and has what it would do counted. */
export const checkImport = post("people/imports/[id]/check", { permission: "person.import", request: importChoices, refusals: ["import_state"] });
/** Brings in the people of a file that was checked. */
export const runImport = post("people/imports/[id]/run", { permission: "person.import", refusals: ["import_state"] });
export const cancelImport = post("people/imports/[id]/cancel", { permission: "person.import" });
