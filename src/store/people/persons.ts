import { instants, uuids } from "../events/batch";
import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import { Contact } from "./tables";

/** The person a visitor is; undefined for one who has never been here. */
export const personOfVisitor = async (em: EntityManager, visitorId: string): Promise<string | undefined> => {
  const [row] = await em.execute<{ person_id: string }[]>("select person_id from visitor where id = ?", [visitorId]);
  return row?.person_id;
};

/** The contact that a person is reached by; null of whoever gave no address, was erased, or is somebody else by now. */
export const contactOfPerson = (em: EntityManager, personId: string): Promise<Contact | null> =>
  em.findOne(Contact, { personId, test: false, erasedAt: null, mergedInto: null });

/** Makes a person whom no browser has shown yet. */
export const addPerson = async (em: EntityManager, id: string, now: Date): Promise<void> => {
  await em.execute("insert into person (id, created_at) values (?, ?)", [id, now]);
};

/**
 * The person a visitor is, and whether they have never been here before: then visitor and person are made, of the same id until an
 * address shows who it is. Undefined where another request makes the visitor at this very moment: they are known to the next statement.
 */
export const findOrAddVisitor = async (
  em: EntityManager,
  visitorId: string,
  now: Date,
): Promise<{ personId: string; fresh: boolean } | undefined> => {
  const [row] = await prepared<{ person_id: string; fresh: boolean }>(
    em,
    "find_or_add_visitor",
    `with known as (select person_id from visitor where id = ?),
     made as (insert into person (id, created_at) select ?::uuid, ?::timestamptz where not exists (select from known) on conflict do nothing returning 1),
     added as (insert into visitor (id, person_id, first_seen_at) select ?::uuid, ?::uuid, ?::timestamptz
       where not exists (select from known) and (select count(*) from made) >= 0 on conflict do nothing returning person_id)
     select person_id, false as fresh from known union all select person_id, true from added`,
    [visitorId, visitorId, now, visitorId, visitorId, now],
  );
  return row && { personId: row.person_id, fresh: row.fresh };
};

/**
 * Makes many visitors at once, each with the first instant at which it was seen; known ones are passed over by their keys. All people
 * come before all visitors, as in `findOrAddVisitor`: a request and its own visit, written at once, must not hold each other up.
 */
export const addVisitors = async (tx: EntityManager, visitors: ReadonlyMap<string, Date>): Promise<void> => {
  await prepared(
    tx,
    "visitors",
    `with seen as (select visitor_id, at from unnest(?::uuid[], ?::timestamptz[]) as b(visitor_id, at) order by 1),
     made as (insert into person (id, created_at) select visitor_id, at from seen on conflict do nothing returning 1)
     insert into visitor (id, person_id, first_seen_at) select visitor_id, visitor_id, at from seen where (select count(*) from made) >= 0 on conflict do nothing`,
    [uuids([...visitors.keys()]), instants([...visitors.values()])],
  );
};

/** From now on this visitor is that person. */
export const moveVisitor = async (em: EntityManager, visitorId: string, personId: string): Promise<void> => {
  await em.execute("update visitor set person_id = ? where id = ?", [personId, visitorId]);
};

/** The contact that an address leads to: its own, or the one that this turned out to be. */
export const contactByEmail = async (em: EntityManager, email: string): Promise<Contact | null> => {
  const found = await em.findOne(Contact, { email, test: false });
  return found?.mergedInto ? em.findOneOrFail(Contact, { id: found.mergedInto }) : found;
};

/** The contact of an id, or the one that it turned out to be; null for one who was erased. Links that were sent out name it for years. */
export const contactById = async (em: EntityManager, id: string): Promise<Contact | null> => {
  const found = await em.findOne(Contact, { id, test: false, erasedAt: null });
  return found?.mergedInto ? em.findOne(Contact, { id: found.mergedInto, erasedAt: null }) : found;
};

export interface NewContact {
  id: string;
  personId: string;
  email: string;
  firstName: string;
  country?: string;
  /** What they agreed to as they gave the address. */
  consent?: string;
  guessedZone?: string | undefined;
  guessedLanguage?: string | undefined;
  /** Somebody who tries a checkout out. */
  test?: boolean;
}

/** Makes a contact, or answers the one that has the address (of those who try things out by themselves). */
export const addContact = async (
  em: EntityManager,
  { id, personId, email, firstName, country, consent, guessedZone, guessedLanguage, test = false }: NewContact,
  now: Date,
): Promise<Contact> => {
  const [made] = await em.execute<object[]>(
    `insert into contact (id, person_id, email, first_name, country, consent_text, consent_at, created_at, test, guessed_zone, guessed_language)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (email) where ${test ? "test" : "not test"} do nothing returning *`,
    [
      id,
      personId,
      email,
      firstName,
      country ?? null,
      consent ?? null,
      consent === undefined ? null : now,
      now,
      test,
      guessedZone ?? null,
      guessedLanguage ?? null,
    ],
  );
  if (made) return em.map(Contact, made);
  return (test ? null : await contactByEmail(em, email)) ?? em.findOneOrFail(Contact, { email, test });
};

/** Clicks that led one person here count for another as well. A click stays one click, however often it is shared. */
export const shareTouches = async (em: EntityManager, from: string, into: string, launchId?: string): Promise<void> => {
  await em.execute(
    `insert into touch_person (touch_id, person_id) select tp.touch_id, ? from touch_person tp join touch t on t.id = tp.touch_id
     where tp.person_id = ? and (?::uuid is null or t.launch_id = ?) on conflict do nothing`,
    [into, from, launchId ?? null, launchId ?? null],
  );
};

/** The person a contact is. */
export const personOfContact = async (em: EntityManager, contactId: string): Promise<string | undefined> => {
  const [row] = await em.execute<{ person_id: string }[]>(
    "select coalesce(k.person_id, c.person_id) as person_id from contact c left join contact k on k.id = c.merged_into where c.id = ? and c.erased_at is null",
    [contactId],
  );
  return row?.person_id;
};

/** When a person joined the list of a launch. */
export const joinedAt = async (em: EntityManager, launchId: string, personId: string): Promise<Date | undefined> => {
  const [row] = await em.execute<{ opted_in: string | null }[]>("select opted_in from stage_rollup where launch_id = ? and person_id = ?", [
    launchId,
    personId,
  ]);
  return row?.opted_in ? new Date(row.opted_in) : undefined;
};
