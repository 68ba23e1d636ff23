import { randomUUID } from "node:crypto";
import { normaliseEmail } from "../../core/people";
import { mergedStarts } from "../../core/launch";
import { Contact, Launch } from "../../store/entities";
import { mergeRollups } from "../../store/events/rollups";
import type { EntityManager } from "../../store/orm";

/** The person behind a visitor's cookie; the visitor is recorded where it is new. */
export const personOf = async (em: EntityManager, visitorId: string, now: Date): Promise<string> => {
  const known = await em.execute<{ person_id: string }[]>("select person_id from visitor where id = ?", [visitorId]);
  if (known[0]) return known[0].person_id;
  await em.execute("insert into person (id, created_at) values (?, ?) on conflict do nothing", [visitorId, now]);
  await em.execute("insert into visitor (id, person_id, first_seen_at) values (?, ?, ?) on conflict do nothing", [visitorId, visitorId, now]);
  const rows = await em.execute<{ person_id: string }[]>("select person_id from visitor where id = ?", [visitorId]);
  return rows[0]!.person_id;
};

/** Clicks that led one person here count for another as well. A click stays one click, however often it is shared. */
export const shareTouches = async (em: EntityManager, from: string, into: string, launchId?: string): Promise<void> => {
  await em.execute(
    `insert into touch_person (touch_id, person_id) select tp.touch_id, ? from touch_person tp join touch t on t.id = tp.touch_id
     where tp.person_id = ? and (?::uuid is null or t.launch_id = ?) on conflict do nothing`,
    [into, from, launchId ?? null, launchId ?? null],
  );
};

/**
 * Makes two persons one: what `from` did is counted for `into`, at the earlier time of each stage, and its touches
 * go along, so that credit survives a change of device.
 */
const merge = async (em: EntityManager, from: string, into: string, now: Date): Promise<void> => {
  await mergeRollups(em, from, into);
  await em.execute("update visitor set person_id = ? where person_id = ?", [into, from]);
  await shareTouches(em, from, into);
  await em.execute("delete from touch_person where person_id = ?", [from]);
  await em.execute("update checkout set person_id = ? where person_id = ?", [into, from]);
  await em.execute("update page_comment set person_id = ? where person_id = ?", [into, from]);
  await supersedeStarts(em, from, into, now);
  // What goes on counting of either counts by the clock's own rule: the earlier one wins.
  await em.execute(
    `insert into clock_start (id, launch_id, person_id, visitor_id, at, trigger, superseded)
     select gen_random_uuid(), launch_id, ?, visitor_id, at, trigger, superseded from clock_start where person_id = ? on conflict do nothing`,
    [into, from],
  );
  await em.execute("delete from clock_start where person_id = ?", [from]);
  await em.execute(
    `insert into clock_stop as s (launch_id, person_id, at, because, handed_to) select launch_id, ?, at, because, handed_to from clock_stop where person_id = ?
     on conflict (launch_id, person_id) do update set at = least(s.at, excluded.at)`,
    [into, from],
  );
  await em.execute("delete from clock_stop where person_id = ?", [from]);
  // Whoever had been merged into the one is the other as well: one step leads to who somebody is.
  await em.execute("update person set merged_into = ? where id = ? or merged_into = ?", [into, from, from]);
};

/** Where the doors of a launch are open to both people: the starts of the one whose clock ends later count no more. */
const supersedeStarts = async (em: EntityManager, from: string, into: string, now: Date): Promise<void> => {
  const rows = await em.execute<{ launch_id: string; person_id: string; starts: string[] }[]>(
    `select launch_id, person_id, array_agg(to_char(at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') order by at) as starts from clock_start
     where person_id in (?, ?) and not superseded group by 1, 2`,
    [from, into],
  );
  for (const mine of rows.filter((row) => row.person_id === into)) {
    const theirs = rows.find((row) => row.launch_id === mine.launch_id && row.person_id === from);
    const launch = theirs && (await em.findOne(Launch, { id: mine.launch_id }));
    if (launch?.settings.clock.kind !== "personal") continue;
    const both = [mine.starts.map((at) => new Date(at)), theirs!.starts.map((at) => new Date(at))] as const;
    const counting = mergedStarts(launch.settings.clock, launch.zone, both, now);
    const over = counting === both[0] ? from : counting === both[1] ? into : undefined;
    if (over) await em.execute("update clock_start set superseded = true where launch_id = ? and person_id = ?", [mine.launch_id, over]);
  }
};

/** Ties a visitor to a person known by a signed link or an address, and answers that person. */
export const becomePerson = async (em: EntityManager, visitorId: string, personId: string, now: Date): Promise<void> => {
  const current = await personOf(em, visitorId, now);
  if (current === personId) return;
  const owner = await em.findOne(Contact, { personId: current });
  if (!owner) return merge(em, current, personId, now);
  // The browser belonged to another contact (a shared computer): only this visitor moves, and what led it here counts for both.
  await em.execute("update visitor set person_id = ? where id = ?", [personId, visitorId]);
  await shareTouches(em, current, personId);
};

/**
 * Ties the browser that opened a link to the link's owner, where it is `theirs` (it sent the form that the link answers) or
 * has never been here. A browser with a history of its own keeps it: links are forwarded, and two people must not become one.
 */
export const tieBrowser = async (em: EntityManager, visitorId: string, personId: string, theirs: boolean, now: Date): Promise<void> => {
  const [known] = await em.execute<object[]>("select 1 from visitor where id = ?", [visitorId]);
  if (theirs || !known) await becomePerson(em, visitorId, personId, now);
};

/** The contact of an address, made where it is new, with the visitor tied to it. Two requests at once make one contact. */
export const contactOf = async (
  em: EntityManager,
  visitorId: string,
  who: { email: string; firstName: string; country?: string },
  now: Date,
  test = false,
): Promise<Contact> => {
  const email = normaliseEmail(who.email);
  if (test) return testContact(em, visitorId, { ...who, email }, now);
  const known = await em.findOne(Contact, { email, test: false });
  if (known) {
    await becomePerson(em, visitorId, known.personId, now);
    return known;
  }
  let personId = await personOf(em, visitorId, now);
  if (await em.findOne(Contact, { personId })) {
    personId = randomUUID();
    await em.execute("insert into person (id, created_at) values (?, ?)", [personId, now]);
    await becomePerson(em, visitorId, personId, now);
  }
  await em.execute(
    "insert into contact (id, person_id, email, first_name, country, created_at) values (?, ?, ?, ?, ?, ?) on conflict (email) where not test do nothing",
    [randomUUID(), personId, email, who.firstName, who.country ?? null, now],
  );
  const contact = await em.findOneOrFail(Contact, { email, test: false });
  if (contact.personId !== personId) await becomePerson(em, visitorId, contact.personId, now);
  return contact;
};

/** Somebody who tries a checkout out: apart from whoever has the same address, so that nothing of it becomes theirs. */
const testContact = async (
  em: EntityManager,
  visitorId: string,
  { email, firstName, country }: { email: string; firstName: string; country?: string },
  now: Date,
): Promise<Contact> => {
  const known = await em.findOne(Contact, { email, test: true });
  if (known) return known;
  let personId = await personOf(em, visitorId, now);
  if (await em.findOne(Contact, { personId })) {
    personId = randomUUID();
    await em.execute("insert into person (id, created_at) values (?, ?)", [personId, now]);
  }
  await em.execute(
    "insert into contact (id, person_id, email, first_name, country, created_at, test) values (?, ?, ?, ?, ?, ?, true) on conflict (email) where test do nothing",
    [randomUUID(), personId, email, firstName, country ?? null, now],
  );
  return em.findOneOrFail(Contact, { email, test: true });
};
