import { otherAddresses } from "../../store/people/record/mergeContacts";
import type { PersonRecord } from "../../core/people";
import { windowFor } from "../../core/launch";
import { startsOf, stopOf } from "../../store/launch/clocks";
import { touchesOfPerson } from "../../store/partners/touchesOfPerson";
import { optOutOf } from "../../store/people/optOuts";
import { consentsOf, tracesOf } from "../../store/people/record/personFacts";
import { contactOfPerson } from "../../store/people/persons";
import { personTimeline } from "../../store/people/record/personTimeline";
import type { Contact } from "../../store/tables";
import { EmailMessage, Person, PersonTag } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { loadLaunch } from "../launch";
import { creditOf } from "../partners";
import { required } from "../platform";
import { correctable } from "./contactOfPerson";

/** Who a person is by now: one who was merged into another is the other. Refuses an id that is nobody's. */
const whoIs = async (em: EntityManager, id: string): Promise<string> => {
  const { mergedInto } = required(await em.findOne(Person, { id }), "person");
  return mergedInto ?? id;
};

/** A person's clock and credit in one launch, as of an instant. */
const inLaunch = async (
  em: EntityManager,
  launchId: string,
  personId: string,
  contact: Contact | null,
  asOf: Date,
): Promise<PersonRecord["launches"][number]> => {
  const { launch, plan } = required(await loadLaunch(em, { id: launchId }), "launch");
  const starts = await startsOf(em, launchId, [personId], undefined);
  const stop = await stopOf(em, launchId, personId);
  const window = windowFor(plan, { starts, stop }, asOf);
  const out = contact ? await optOutOf(em, contact.id, launchId) : undefined;
  const touches = (await touchesOfPerson(em, launchId, personId, contact?.email ?? "")).filter(({ at }) => new Date(at) <= asOf);
  return {
    slug: plan.slug,
    name: plan.name,
    zone: plan.zone,
    closes: window && window.closes > asOf && !(stop && stop.at <= asOf) ? window.closes : null,
    credited: creditOf(touches, launch, asOf).partnerName ?? null,
    touches: touches.length,
    optedOut: out && out.at <= asOf ? out : null,
  };
};

/** An instant that has come by another; null of what was still to happen then. */
const by = (at: Date | null | undefined, asOf: Date): Date | null => (at && at <= asOf ? at : null);

/** Why no mail to many goes to a contact, as of an instant, with the words of the newest that came back. */
const suppressionOf = async (em: EntityManager, { id, suppressedAt, suppressedBecause }: Contact, asOf: Date) => {
  if (!suppressedAt || !suppressedBecause || suppressedAt > asOf) return null;
  const [last] = await em.find(
    EmailMessage,
    { contactId: id, returnSays: { $ne: null } },
    { orderBy: { bouncedAt: -1 }, limit: 1, fields: ["returnSays"] },
  );
  return { at: suppressedAt, because: suppressedBecause, says: last?.returnSays ?? "" };
};

/** All that the desk knows of one person, as of an instant. Name, address and country are as they are known now. */
export const personRecordOf = async (em: EntityManager, asked: string, asOf: Date): Promise<PersonRecord> => {
  const id = await whoIs(em, asked);
  const contact = await contactOfPerson(em, id);
  const traces = await tracesOf(em, id, asOf);
  const launches: PersonRecord["launches"] = [];
  for (const launchId of traces.launches) launches.push(await inLaunch(em, launchId, id, contact, asOf));
  const tags = await em.find(PersonTag, { personId: id, at: { $lte: asOf } }, { orderBy: { tag: 1 } });
  return {
    id,
    since: contact?.createdAt ?? traces.since,
    contact: contact && {
      ...correctable(contact),
      id: contact.id,
      otherEmails: (await otherAddresses(em, contact.id)).map(({ email }) => email),
      provenAt: by(contact.provenAt, asOf),
      unsubscribedAt: by(contact.unsubscribedAt, asOf),
      suppressed: await suppressionOf(em, contact, asOf),
      fewerSince: by(contact.fewerSince, asOf),
      hasPassword: Boolean(contact.passwordHash),
    },
    guessedCountry: traces.country,
    guessedZone: contact?.guessedZone ?? null,
    guessedLanguage: contact?.guessedLanguage ?? null,
    consents: contact ? await consentsOf(em, contact.id, asOf) : [],
    tags: tags.map(({ tag, at }) => ({ tag, at })),
    browsers: traces.browsers,
    merged: traces.merged,
    launches,
    timeline: await personTimeline(em, { id, contactId: contact?.id }, asOf),
  };
};
