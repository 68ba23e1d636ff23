import { isDeepStrictEqual } from "node:util";
import { answerFault, type PersonCorrection } from "../../core/people";
import { endSuppression } from "../../store/emails/returns";
import { redateLastCalls } from "../../store/emails/dating";
import { lockContacts } from "../../store/people/record/mergeContacts";
import { endOptOut, optOut, optOutOf } from "../../store/people/optOuts";
import { tagAllFound } from "../../store/people/find/peoplePage";
import { setTag } from "../../store/people/record/personFacts";
import { Contact, PersonField, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { deskLaunch } from "../launch";
import { mustBeAllowed, Refusal, wrongField, wrongFields } from "../platform";
import { conditionOf } from "./conditionOf";
import { contactOfPerson, correctable } from "./contactOfPerson";
import { unsubscribe } from "./optIn";

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

/**
 * Corrects what is known of a person, unless somebody has changed it since it was `seen`. A new address has proved nothing yet: nobody has shown
 * to read its inbox.
 */
export const correctPerson = async (
  em: EntityManager,
  user: DeskUser,
  personId: string,
  { seen, ...correction }: PersonCorrection & { seen: PersonCorrection },
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await em
    .transactional(async (tx) => {
      await lockContacts(tx, [personId]);
      const contact = await contactOfPerson(tx, personId);
      if (!isDeepStrictEqual(correctable(contact), seen)) throw new Refusal({ code: "changed_meanwhile", what: "person" });
      const fields = new Map((await tx.find(PersonField, {})).map((field) => [field.name, field]));
      const faults = Object.entries(correction.answers).flatMap(([name, answer]) => {
        // What was chosen when the field had other choices may stay.
        const found = answer === contact.answers[name] ? undefined : answerFault(fields.get(name), answer);
        return found ? [[`answers.${name}`, found] as const] : [];
      });
      if (faults.length > 0) throw wrongFields("nothing_changed", Object.fromEntries(faults));
      const { email, firstName, lastName, phone, country, zone, language } = correction;
      const moved = email !== contact.email;
      if (moved && (await tx.count(Contact, { email, test: false })) > 0) throw taken();
      const answers = Object.fromEntries(Object.entries(correction.answers).filter(([, answer]) => answer !== ""));
      const next = {
        email,
        firstName,
        lastName,
        phone: phone || null,
        country: country || null,
        zone: zone || null,
        language: language || null,
        answers,
      };
      await tx.nativeUpdate(Contact, { id: contact.id }, moved ? { ...next, provenAt: null, suppressedAt: null, suppressedBecause: null } : next);
      if (next.zone !== contact.zone) await redateLastCalls(tx, contact.id, now);
    })
    .catch((error: unknown) => {
      // Somebody took the address between the look and the change.
      if (error instanceof Error && error.name === "UniqueConstraintViolationException") throw taken();
      throw error;
    });
};

/** Stops the emails of one launch to a person, or lets them go again; whoever has stopped them themself alone can let them go. */
export const optOutOfLaunch = async (
  em: EntityManager,
  user: DeskUser,
  { id, slug, out }: { id: string; slug: string; out: boolean },
  now: Date,
): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  const { launch } = await deskLaunch(em, slug);
  await em.transactional(async (tx) => {
    await lockContacts(tx, [id]);
    const contact = await contactOfPerson(tx, id);
    if (out) return optOut(tx, contact.id, launch.id, "desk", now);
    if ((await optOutOf(tx, contact.id, launch.id))?.by === "reader") throw new Refusal({ code: "opted_out_themself" });
    await endOptOut(tx, contact.id, launch.id);
  });
};

/** Stops all emails to a person who asked for it otherwise than by the link in them. Only they can begin them again. */
export const stopEmailsTo = async (em: EntityManager, user: DeskUser, personId: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await unsubscribe(em, (await contactOfPerson(em, personId)).id, now);
};

/** Lets mail to many go to an address again from which some came back. Whoever complained stays unsubscribed. */
export const resumeEmailsTo = async (em: EntityManager, user: DeskUser, personId: string): Promise<void> => {
  mustBeAllowed(user, "person.edit");
  await endSuppression(em, (await contactOfPerson(em, personId)).id);
};
