import type { ImportCounts, ImportRow, KnownPerson, RefusedLine } from "../../core/people";
import type { EntityManager } from "../orm";

/** A line of a file: its number, and its cells. */
export type FileLine = readonly [line: number, cells: string[]];

/** Keeps one part of the lines of a file. */
export const addImportPart = async (em: EntityManager, importId: string, n: number, lines: readonly FileLine[]): Promise<void> => {
  await em.execute("insert into people_import_part (import_id, n, lines) values (?, ?, ?::jsonb)", [importId, n, JSON.stringify(lines)]);
};

/** One part of the lines of a file; undefined after the last. */
export const importPart = async (em: EntityManager, importId: string, n: number): Promise<FileLine[] | undefined> => {
  const [row] = await em.execute<{ lines: FileLine[] }[]>("select lines from people_import_part where import_id = ? and n = ?", [importId, n]);
  return row?.lines;
};

/** Forgets the lines of files that nobody has asked for since an instant: what came of them is kept. */
export const forgetImportParts = async (em: EntityManager, before: Date): Promise<void> => {
  await em.execute(
    `delete from people_import_part where import_id in (select id from people_import where coalesce(finished_at, asked_at, created_at) < ? and state not in ('checking', 'running'))`,
    [before],
  );
};

/** The state and the next part of an import, locked until the transaction ends. */
export const lockImport = async (tx: EntityManager, importId: string): Promise<{ state: string; nextPart: number } | undefined> => {
  const [row] = await tx.execute<{ state: string; next_part: number }[]>("select state, next_part from people_import where id = ? for update", [
    importId,
  ]);
  return row && { state: row.state, nextPart: row.next_part };
};

/** Counts a part as worked through. */
export const countPart = async (
  tx: EntityManager,
  importId: string,
  counts: ImportCounts,
  refused: readonly RefusedLine[],
  most: number,
): Promise<void> => {
  const add = Object.keys(counts).map((name) => `'${name}', coalesce((counts->>'${name}')::int, 0) + ?::int`);
  await tx.execute(
    `update people_import set next_part = next_part + 1, counts = jsonb_build_object(${add.join(", ")}),
       refused = case when jsonb_array_length(refused) >= ${Math.trunc(most)} then refused else jsonb_path_query_array(refused || ?::jsonb, '$[0 to ${Math.trunc(most) - 1}]') end
     where id = ?`,
    [...Object.values(counts), JSON.stringify(refused), importId],
  );
};

export interface KnownContact extends KnownPerson {
  id: string;
  personId: string;
  email: string;
  tags: string[];
}

/** Those of some addresses who are known, locked against other changes where `lock` asks for it. */
export const knownContacts = async (em: EntityManager, emails: readonly string[], lock: boolean): Promise<KnownContact[]> => {
  const rows = await em.execute<
    (Record<"id" | "person_id" | "email" | "first_name" | "last_name", string> &
      Record<"phone" | "country" | "consent_at" | "unsubscribed_at", string | null> & { answers: Record<string, string>; tags: string[] })[]
  >(
    `select c.id, c.person_id, a.email, c.first_name, c.last_name, c.phone, c.country, c.answers, c.consent_at, c.unsubscribed_at,
       array(select g.tag from person_tag g where g.person_id = c.person_id) as tags
     from contact a join contact c on c.id = coalesce(a.merged_into, a.id) where not a.test and a.email in (select jsonb_array_elements_text(?::jsonb)) order by c.id ${lock ? "for update of c" : ""}`,
    [JSON.stringify(emails)],
  );
  const date = (text: string | null) => (text === null ? null : new Date(text));
  return rows.map((row) => ({
    id: row.id,
    personId: row.person_id,
    email: row.email,
    firstName: row.first_name,
    lastName: row.last_name,
    phone: row.phone ?? "",
    country: row.country ?? "",
    answers: row.answers,
    tags: row.tags,
    consentAt: date(row.consent_at),
    unsubscribedAt: date(row.unsubscribed_at),
  }));
};

type NewPerson = ImportRow & { id: string; personId: string };

/** Adds people with their addresses, and answers the addresses that were added: another request may have added some meanwhile. */
export const addImported = async (tx: EntityManager, people: readonly NewPerson[], words: string | null, now: Date): Promise<Set<string>> => {
  if (people.length === 0) return new Set();
  const rows = JSON.stringify(
    people.map((one) => ({
      id: one.id,
      person_id: one.personId,
      email: one.email,
      first_name: one.firstName,
      last_name: one.lastName,
      phone: one.phone || null,
      country: one.country || null,
      answers: one.answers,
      consent_at: one.consentAt,
      consent_text: one.consentAt && words,
    })),
  );
  const from =
    "jsonb_to_recordset(?::jsonb) as r(id uuid, person_id uuid, email text, first_name text, last_name text, phone text, country text, answers jsonb, consent_at timestamptz, consent_text text)";
  await tx.execute(`insert into person (id, created_at) select person_id, ? from ${from}`, [now, rows]);
  const added = await tx.execute<{ email: string }[]>(
    `insert into contact (id, person_id, email, first_name, last_name, phone, country, answers, consent_at, consent_text, created_at)
     select id, person_id, email, first_name, last_name, phone, country, answers, consent_at, consent_text, ? from ${from} order by email
     on conflict (email) where not test do nothing returning email`,
    [now, rows],
  );
  const emails = new Set(added.map(({ email }) => email));
  const alone = people.filter(({ email }) => !emails.has(email)).map(({ personId }) => personId);
  if (alone.length > 0) await tx.execute("delete from person where id = any(?::uuid[])", [`{${alone.join(",")}}`]);
  return emails;
};

/** Writes what known people's records hold from now on. */
export const changeImported = async (tx: EntityManager, people: readonly (KnownPerson & { id: string })[], words: string | null): Promise<void> => {
  if (people.length === 0) return;
  await tx.execute(
    `update contact c set first_name = r.first_name, last_name = r.last_name, phone = r.phone, country = r.country, answers = r.answers,
       consent_at = r.consent_at, consent_text = case when c.consent_at is null and r.consent_at is not null then ? else c.consent_text end
     from jsonb_to_recordset(?::jsonb) as r(id uuid, first_name text, last_name text, phone text, country text, answers jsonb, consent_at timestamptz)
     where c.id = r.id`,
    [
      words,
      JSON.stringify(
        people.map((one) => ({
          id: one.id,
          first_name: one.firstName,
          last_name: one.lastName,
          phone: one.phone || null,
          country: one.country || null,
          answers: one.answers,
          consent_at: one.consentAt,
        })),
      ),
    ],
  );
};

/** Sets the tags that lines of a file give people. */
export const addTags = async (tx: EntityManager, tags: readonly { personId: string; tag: string }[], now: Date): Promise<void> => {
  if (tags.length === 0) return;
  await tx.execute(
    `insert into person_tag (person_id, tag, at) select r.person_id, r.tag, ? from jsonb_to_recordset(?::jsonb) as r(person_id uuid, tag text) on conflict do nothing`,
    [now, JSON.stringify(tags.map(({ personId, tag }) => ({ person_id: personId, tag })))],
  );
};

export interface ImportedContact {
  contactId: string;
  line: number;
  /** The consent that the line stated and that counts from now on. */
  consent: { words: string; at: Date } | null;
}

/** Keeps which line of a file was whose, with the consent that it stated. */
export const noteImported = async (tx: EntityManager, importId: string, contacts: readonly ImportedContact[], now: Date): Promise<void> => {
  if (contacts.length === 0) return;
  await tx.execute(
    `insert into people_import_contact (import_id, contact_id, line, at, consent_words, consent_at)
     select ?, r.contact_id, r.line, ?, r.words, r.consent_at from jsonb_to_recordset(?::jsonb) as r(contact_id uuid, line int, words text, consent_at timestamptz)
     on conflict do nothing`,
    [
      importId,
      now,
      JSON.stringify(
        contacts.map(({ contactId, line, consent }) => ({
          contact_id: contactId,
          line,
          words: consent?.words ?? null,
          consent_at: consent?.at ?? null,
        })),
      ),
    ],
  );
};
