import type { PersonCorrection } from "../../core/people";
import { tagAllFound } from "../../store/people/find/peoplePage";
import { setTag } from "../../store/people/record/personFacts";
import { Contact, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, type Refusal, required, wrongField } from "../platform";
import { conditionOf } from "./conditionOf";
import { unsubscribe } from "./optIn";

const contactOfPerson = async (em: EntityManager, personId: string): Promise<Contact> =>
  required(await em.findOne(Contact, { personId, test: false, erasedAt: null, mergedInto: null }), "person");

/** Sets or removes a tag on people; how many of them it changed. Doing it twice is the same as once. */
export const tagPeople = async (
  em: EntityManager,
  user: DeskUser,
  { people, tag, set }: { people: readonly string[]; tag: string; set: boolean },
  now: Date,
): Promise<number> => {
  mustBeAllowed(user, "person.edit");
  return setTag(em, people, tag, set, now);
};

/** The same of everybody who is found by a search and a condition. */
export const tagAllPeople = async (
  em: EntityManager,
  user: DeskUser,
  { find, who, tag, set }: { find: string; who: string; tag: string; set: boolean },
  now: Date,
): Promise<number> => {
  mustBeAllowed(user, "person.edit");
  return tagAllFound(em, { find, who: await conditionOf(em, who) }, { tag, set }, { now });
};

const taken = (): Refusal => wrongField("nothing_changed", "email", { code: "address_taken" });

/** Corrects name, address, phone or country. A new address has proved nothing yet: nobody has shown to read its inbox. */
export const correctPerson = async (em: EntityManager, user: DeskUser, personId: string, correction: PersonCorrection): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await em
    .transactional(async (tx) => {
      const contact = await contactOfPerson(tx, personId);
      const { email, firstName, lastName, phone, country } = correction;
      const moved = email !== contact.email;
      if (moved && (await tx.count(Contact, { email, test: false })) > 0) throw taken();
      const next = { email, firstName, lastName, phone: phone || null, country: country || null };
      await tx.nativeUpdate(Contact, { id: contact.id }, moved ? { ...next, provenAt: null } : next);
    })
    .catch((error: unknown) => {
      // Somebody took the address between the look and the change.
      if (error instanceof Error && error.name === "UniqueConstraintViolationException") throw taken();
      throw error;
    });
};

/** Stops all emails to a person who asked for it otherwise than by the link in them. Only they can begin them again. */
export const stopEmailsTo = async (em: EntityManager, user: DeskUser, personId: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await unsubscribe(em, (await contactOfPerson(em, personId)).id, now);
};
