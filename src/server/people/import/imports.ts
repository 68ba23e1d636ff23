import { randomUUID } from "node:crypto";
import type { Readable } from "node:stream";
import type { ImportRecord } from "../../../contract/peopleImport";
import { guessColumns, type ImportChoices, type ImportState } from "../../../core/people";
import { faultSentence } from "../../../core/words";
import { addImportPart, importPart } from "../../../store/people/imports";
import { PeopleImport, Product, type DeskUser } from "../../../store/tables";
import type { EntityManager } from "../../../store/orm";
import { type App, csvResponse, mustBeAllowed, queue, Refusal, required, wrongField } from "../../platform";
import { judgedParts } from "./judgeLines";
import { readPeopleFile } from "./readPeopleFile";

/** Lines that are brought in by one transaction. */
const atOnce = 1_000;
const mostLines = 250_000;
/** Lines that are shown while the columns are chosen. */
const sampleLines = 3;

/** Takes a file of people in. Nobody is changed by it: first it is said how it is read. */
export const startImport = async (
  { files }: Pick<App, "files">,
  em: EntityManager,
  user: DeskUser,
  name: string,
  body: Readable | Buffer,
  now: Date,
): Promise<{ id: string }> => {
  mustBeAllowed(user, "person.import");
  const incoming = await files.take(body);
  try {
    const { encoding, titles, parts } = await readPeopleFile(incoming, atOnce);
    const id = randomUUID();
    await em.transactional(async (tx) => {
      const made = { id, fileName: name, userId: user.id, createdAt: now, titles, encoding, lines: 1, state: "read" as const, choices: null };
      await tx.insert(PeopleImport, { ...made, counts: {}, refused: [], askedAt: null, finishedAt: null });
      let [n, lines] = [0, 0];
      for await (const part of parts) {
        lines += part.length;
        if (lines > mostLines) throw wrongField("nothing_imported", "file", { code: "file", why: "too_many_rows" });
        await addImportPart(tx, id, n, part);
        n += 1;
      }
      if (lines === 0) throw wrongField("nothing_imported", "file", { code: "file", why: "no_rows" });
      await tx.nativeUpdate(PeopleImport, { id }, { lines });
    });
    return { id };
  } finally {
    await files.drop(incoming);
  }
};

/** A file of people: how it is read, how far it has come, and what came of it. */
export const importRecord = async (em: EntityManager, id: string): Promise<ImportRecord> => {
  const one = required(await em.findOne(PeopleImport, { id }), "import");
  const sample = ((await importPart(em, id, 0)) ?? []).slice(0, sampleLines).map(([, cells]) => cells);
  return {
    id,
    file: one.fileName,
    at: one.createdAt,
    titles: one.titles,
    lines: one.lines,
    utf8: one.encoding === "utf-8",
    sample,
    choices: one.choices ?? { columns: guessColumns(one.titles), known: "fill", consent: null, tag: "", access: null },
    state: one.state,
    done: Math.min(one.lines, one.nextPart * atOnce),
    counts: { added: 0, changed: 0, unchanged: 0, refused: 0, noConsent: 0, granted: 0, ...one.counts },
    refused: one.refused.map(({ line, faults }) => ({
      line,
      faults: faults.map(({ column, fault }) => ({
        column: column === undefined || column < 0 ? "" : (one.titles[column] ?? ""),
        says: faultSentence(fault),
      })),
    })),
  };
};

/** Has a worker go through the file, from its beginning. */
const goThrough = async (
  em: EntityManager,
  id: string,
  from: readonly ImportState[],
  change: { state: "checking" | "running"; choices?: ImportChoices },
  now: Date,
): Promise<void> => {
  await em.transactional(async (tx) => {
    const { state } = change;
    const changed = await tx.nativeUpdate(
      PeopleImport,
      { id, state: { $in: [...from] } },
      { ...change, nextPart: 0, counts: {}, refused: [], ...(state === "checking" ? { askedAt: now } : {}) },
    );
    if (changed === 0) throw new Refusal({ code: "import_state" });
    await queue(tx, "import_people", { id }, now, `people:${id}`);
  });
};

/** Says how a file is read, and has it checked: what it would do is counted, and nobody is changed. */
export const checkImport = async (em: EntityManager, user: DeskUser, id: string, choices: ImportChoices, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.import");
  const { titles } = required(await em.findOne(PeopleImport, { id }), "import");
  if (choices.columns.length !== titles.length) throw wrongField("nothing_imported", "columns", { code: "email_column_missing" });
  if (choices.access) {
    mustBeAllowed(user, "access.grant");
    required(await em.findOne(Product, { id: choices.access.product }), "product");
  }
  await goThrough(em, id, ["read", "checked"], { state: "checking", choices }, now);
};

/** Brings the people of a file in that was checked, as it was checked. */
export const runImport = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.import");
  const { choices } = required(await em.findOne(PeopleImport, { id }), "import");
  if (choices?.access) mustBeAllowed(user, "access.grant");
  await goThrough(em, id, ["checked"], { state: "running" }, now);
};

/** Stops an import: who is in stays, the others do not come. A check that is stopped can be asked for anew. */
export const cancelImport = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.import");
  const stopped = await em.nativeUpdate(PeopleImport, { id, state: "running" }, { state: "cancelled", finishedAt: now });
  if (stopped === 0) await em.nativeUpdate(PeopleImport, { id, state: "checking" }, { state: "read", counts: {}, nextPart: 0 });
};

/** The lines of a file that were refused, with their numbers and why, as a CSV file that can be mended and brought in again. */
export const refusedLines = async (app: App, em: EntityManager, user: DeskUser, id: string): Promise<Response> => {
  mustBeAllowed(user, "person.import");
  const { titles, choices, askedAt } = required(await em.findOne(PeopleImport, { id }), "import");
  if (!choices || !askedAt) throw new Refusal({ code: "import_state" });
  async function* rows(read: ImportChoices, asOf: Date): AsyncGenerator<Record<string, unknown>[]> {
    for await (const { refused } of judgedParts(app, em, id, read, asOf))
      if (refused.length > 0)
        yield refused.map(({ line, cells, faults }) => ({
          ...Object.fromEntries(titles.map((_, index) => [String(index), cells[index] ?? ""])),
          line,
          why: faults.map(({ fault }) => faultSentence(fault)).join(" "),
        }));
  }
  const columns = titles.map((header, index) => ({ key: String(index), header }));
  return csvResponse("refused.csv", [...columns, "line", "why"], rows(choices, askedAt));
};
