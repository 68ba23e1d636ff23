import { randomUUID } from "node:crypto";
import { normaliseEmail, type PlaceGuess } from "../../core/people";
import { mergedStarts } from "../../core/launch";
import { Contact, Launch } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mergeClocks, mergeTraces, startsOfBoth, supersedeStarts } from "../../store/people/record/mergePeople";
import { addContact, addPerson, contactByEmail, findOrAddVisitor, moveVisitor, personOfVisitor, shareTouches } from "../../store/people/persons";

/** The person behind a visitor's cookie, and whether they have never been here before; the visitor is recorded where it is new. */
const meet = async (em: EntityManager, visitorId: string, now: Date): Promise<{ personId: string; fresh: boolean }> =>
  (await findOrAddVisitor(em, visitorId, now)) ?? { personId: (await personOfVisitor(em, visitorId))!, fresh: false };

/** The person behind a visitor's cookie; the visitor is recorded where it is new. */
export const personOf = async (em: EntityManager, visitorId: string, now: Date): Promise<string> => (await meet(em, visitorId, now)).personId;

/**
 * Makes two persons one: what `from` did is counted for `into`, at the earlier time of each stage, and its touches
 * go along, so that credit survives a change of device.
 */
export const mergePersons = async (em: EntityManager, from: string, into: string, now: Date): Promise<void> => {
  await mergeTraces(em, from, into);
  await judgeClocks(em, from, into, now);
  // What goes on counting of either counts by the clock's own rule: the earlier one wins.
  await mergeClocks(em, from, into);
};

/** Where the doors of a launch are open to both people: the starts of the one whose clock ends later count no more. */
const judgeClocks = async (em: EntityManager, from: string, into: string, now: Date): Promise<void> => {
  const all = await startsOfBoth(em, from, into);
  for (const mine of all.filter(({ personId }) => personId === into)) {
    const theirs = all.find(({ launchId, personId }) => launchId === mine.launchId && personId === from);
    const launch = theirs && (await em.findOne(Launch, { id: mine.launchId }));
    if (!theirs || launch?.settings.clock.kind !== "personal") continue;
    const both = [mine.starts, theirs.starts] as const;
    const counting = mergedStarts(launch.settings.clock, launch.zone, both, now);
    const over = counting === both[0] ? from : counting === both[1] ? into : undefined;
    if (over) await supersedeStarts(em, mine.launchId, over);
  }
};

/** Ties a visitor to a person known by a signed link or an address, and answers that person. */
export const becomePerson = async (em: EntityManager, visitorId: string, personId: string, now: Date): Promise<void> => {
  const current = await personOf(em, visitorId, now);
  if (current === personId) return;
  const owner = await em.findOne(Contact, { personId: current });
  if (!owner) return mergePersons(em, current, personId, now);
  // The browser belonged to another contact (a shared computer): only this visitor moves, and what led it here counts for both.
  await moveVisitor(em, visitorId, personId);
  await shareTouches(em, current, personId);
};

/**
 * Ties the browser that opened a link to the link's owner, where it is `theirs` (it sent the form that the link answers) or
 * has never been here. A browser with a history of its own keeps it: links are forwarded, and two people must not become one.
 */
export const tieBrowser = async (em: EntityManager, visitorId: string, personId: string, theirs: boolean, now: Date): Promise<void> => {
  if (theirs || !(await personOfVisitor(em, visitorId))) await becomePerson(em, visitorId, personId, now);
};

/** The newest guess counts; a form without script makes none. The contact is written with its unit of work. */
export const guessAgain = (contact: Contact, { guessedZone, guessedLanguage }: PlaceGuess): void => {
  if (guessedZone) contact.guessedZone = guessedZone;
  if (guessedLanguage) contact.guessedLanguage = guessedLanguage;
};

/** The contact of an address, made where it is new, with the visitor tied to it. Two requests at once make one contact. */
export const contactOf = async (
  em: EntityManager,
  visitorId: string,
  who: { email: string; firstName: string; country?: string; consent?: string } & PlaceGuess,
  now: Date,
  test = false,
): Promise<Contact> => {
  const email = normaliseEmail(who.email);
  if (test) return testContact(em, visitorId, { ...who, email }, now);
  const known = await contactByEmail(em, email);
  if (known) {
    guessAgain(known, who);
    await becomePerson(em, visitorId, known.personId, now);
    return known;
  }
  const visitor = await meet(em, visitorId, now);
  let { personId } = visitor;
  if (!visitor.fresh && (await em.findOne(Contact, { personId }))) {
    personId = randomUUID();
    await addPerson(em, personId, now);
    await becomePerson(em, visitorId, personId, now);
  }
  const contact = await addContact(
    em,
    {
      id: randomUUID(),
      personId,
      email,
      firstName: who.firstName,
      country: who.country,
      consent: who.consent,
      guessedZone: who.guessedZone,
      guessedLanguage: who.guessedLanguage,
    },
    now,
  );
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
    await addPerson(em, personId, now);
  }
  return addContact(em, { id: randomUUID(), personId, email, firstName, country, test: true }, now);
};
