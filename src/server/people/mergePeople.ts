import { mergedContact, type ContactRecord, type MergeFacts } from "../../core/people";
import { lockContacts, mergeFacts, moveContact } from "../../store/people/record/mergeContacts";
import { Contact, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mergePersons } from "../identity";
import { mustBeAllowed, Refusal } from "../platform";
import { contactOfPerson, correctable } from "./contactOfPerson";

const recordOf = (contact: Contact): ContactRecord => ({
  ...correctable(contact),
  id: contact.id,
  createdAt: contact.createdAt,
  consentText: contact.consentText ?? null,
  consentAt: contact.consentAt ?? null,
  unsubscribedAt: contact.unsubscribedAt ?? null,
  fewerSince: contact.fewerSince ?? null,
  passwordHash: contact.passwordHash ?? null,
});

/** The contacts of two people, the one that is kept first. */
const bothOf = async (em: EntityManager, one: string, other: string): Promise<[kept: Contact, gone: Contact]> => {
  if (one === other) throw new Refusal({ code: "same_person" });
  const [a, b] = [await contactOfPerson(em, one), await contactOfPerson(em, other)];
  return mergedContact(recordOf(a), recordOf(b)).id === a.id ? [a, b] : [b, a];
};

/** What merging two people would change, before it does. */
export const mergeOf = async (em: EntityManager, user: DeskUser, one: string, other: string): Promise<MergeFacts> => {
  mustBeAllowed(user, "person.edit");
  const [kept, gone] = await bothOf(em, one, other);
  const merged = mergedContact(recordOf(kept), recordOf(gone));
  return {
    ...(await mergeFacts(em, gone.id)),
    keeps: kept.email,
    joins: gone.email,
    unsubscribed: merged.unsubscribedAt !== null && kept.unsubscribedAt === null,
  };
};

/**
 * Makes two records one, the elder's: orders, checkouts, emails, consents, tags and what was done are its own from then on, deadlines by the clock's rule
 * (the earlier one wins), and the other address leads to it. Booked commissions stay as they are.
 */
export const mergePeople = async (em: EntityManager, user: DeskUser, one: string, other: string, now: Date): Promise<{ id: string }> => {
  mustBeAllowed(user, "person.edit");
  return em.transactional(async (tx) => {
    await lockContacts(tx, [one, other]);
    const [kept, gone] = await bothOf(tx, one, other);
    const { id: _, phone, country, zone, language, answers, ...merged } = mergedContact(recordOf(kept), recordOf(gone));
    await tx.nativeUpdate(
      Contact,
      { id: gone.id },
      { consentText: null, consentAt: null, unsubscribedAt: null, answers: {}, passwordHash: null, phone: null },
    );
    await tx.nativeUpdate(
      Contact,
      { id: kept.id },
      {
        ...merged,
        answers: { ...answers },
        phone: phone || null,
        country: country || null,
        zone: zone || null,
        language: language || null,
        guessedZone: kept.guessedZone ?? gone.guessedZone ?? null,
        guessedLanguage: kept.guessedLanguage ?? gone.guessedLanguage ?? null,
      },
    );
    await moveContact(tx, { from: gone, into: kept });
    await mergePersons(tx, gone.personId, kept.personId, now);
    return { id: kept.personId };
  });
};
