import { LockMode } from "@mikro-orm/core";
import { randomUUID } from "node:crypto";
import { needsConfirmation, normaliseEmail, type PlaceGuess, sentByProgram, type OptInRequest } from "../../core/people";
import type { BlockOf } from "../../core/pages";
import { proveInbox } from "../../store/people/proveInbox";
import { Contact, OptIn } from "../../store/tables";
import { endOptOut } from "../../store/people/optOuts";
import { handOverView } from "../../store/events/rollups";
import type { EntityManager } from "../../store/orm";
import { addContact, addPerson, contactByEmail, contactById, personOfVisitor, shareTouches } from "../../store/people/persons";
import { limitSender, mayGoOn } from "../platform";
import { queueEmail } from "../../store/emails/queueEmail";
import { type LaunchContext, startClock } from "../launch";
import { writeEvents } from "../../store/events/writeEvents";
import { contactOf, guessAgain, tieBrowser } from "../identity";

/** Where and how an opt-in form was sent. */
export interface OptInVisit {
  visitorId: string;
  /** Where the request came from, for the limits. */
  from: string;
  now: Date;
  country?: string;
  /** Whether the browser has sent the cookie that it was given. */
  known?: boolean;
  /** The page, and the form on it. */
  page: string;
  form: Pick<BlockOf<"form">, "id" | "double">;
  /** The sentence that was ticked. */
  consent: string;
  /** When the form was shown, as it says itself. */
  shownAt?: string;
  /** Where they are and what they read, as their browser says. */
  place?: PlaceGuess;
}

/** `listed`: on the list. `asked`: an email asks for one press more. The answer is the same for an address that was known. */
export type OptInOutcome = "listed" | "asked";

/** Puts a contact on the list: the consent counts, a clock that an opt-in starts is started, and the welcome goes out. */
const enlist = async (
  tx: EntityManager,
  context: LaunchContext,
  contact: Contact,
  given: OptIn,
  visitorId: string,
  now: Date,
  confirmed = false,
): Promise<void> => {
  // Whoever is new here agreed as their address was written down.
  if (contact.consentAt?.getTime() !== now.getTime() || contact.consentText !== given.consentText)
    await tx.nativeUpdate(Contact, { id: contact.id }, { consentText: given.consentText, consentAt: now, unsubscribedAt: null });
  await endOptOut(tx, contact.id, context.launch.id);
  if (confirmed) await tx.nativeUpdate(OptIn, { id: given.id }, { confirmedAt: now });
  const { clock } = context.plan;
  const { page } = given;
  // On the form that was chosen, or on any.
  if (clock.kind === "personal" && clock.trigger.on === "opt_in" && (clock.trigger.page === null || clock.trigger.page === page))
    await startClock(tx, context, contact.personId, "opt_in", now, visitorId);
  const { form, visitorId: askedBy } = given;
  const by = { launchId: context.launch.id, visitorId, personId: contact.personId, at: now, page, country: given.country ?? undefined };
  await writeEvents(tx, [
    ...(confirmed ? [{ ...by, kind: "confirmed" as const, data: { form, askedBy } }] : []),
    { ...by, kind: "opted_in", data: { form } },
  ]);
  await queueEmail(tx, {
    key: `welcome:${context.launch.id}:${contact.id}`,
    kind: "welcome",
    launchId: context.launch.id,
    contactId: contact.id,
    dueAt: now,
    data: { optInId: given.id },
  });
};

/** What a person said of themself, and their browser of them; what they leave empty stays as it was. */
const keepAnswers = async (tx: EntityManager, contact: Contact, request: OptInRequest, place: PlaceGuess): Promise<void> => {
  guessAgain(contact, place);
  const { firstName, lastName, phone, answers } = request;
  Object.assign(contact, {
    ...(firstName ? { firstName } : {}),
    ...(lastName ? { lastName } : {}),
    ...(phone ? { phone } : {}),
    answers: { ...contact.answers, ...answers },
  });
  await tx.flush();
};

/** The contact of an address that nobody has proved to be theirs yet: no browser is tied to it. */
const unprovenContact = async (tx: EntityManager, request: OptInRequest, country: string | undefined, now: Date): Promise<Contact> => {
  const email = normaliseEmail(request.email);
  const known = await contactByEmail(tx, email);
  if (known) return known;
  const personId = randomUUID();
  await addPerson(tx, personId, now);
  return addContact(tx, { id: randomUUID(), personId, email, firstName: request.firstName ?? "", country }, now);
};

/**
 * Takes an opt-in. Where the form, the country or the manner of sending asks for it, nothing counts before the address
 * is confirmed from its inbox. Neither the answer nor its time tells whether the address was known.
 */
export const optIn = async (em: EntityManager, context: LaunchContext, request: OptInRequest, visit: OptInVisit): Promise<OptInOutcome> => {
  const { now, visitorId, country, page, form, consent, place = {} } = visit;
  await limitSender(em, now, "opt-in", visit, 30, 300);
  const double = form.double === "always" || (form.double === "where_needed" && needsConfirmation(country)) || sentByProgram(visit.shownAt, now);
  const outcome: OptInOutcome = double ? "asked" : "listed";
  // Whoever fills the field that nobody sees is thanked like everyone, and forgotten; so is who asks for one address again and again.
  if (request.website || !(await mayGoOn(em, now, `opt-in-to:${normaliseEmail(request.email)}`, 6, 3600))) return outcome;
  await em.transactional(async (tx) => {
    const contact = double
      ? await unprovenContact(tx, request, country, now)
      : await contactOf(tx, visitorId, { ...request, firstName: request.firstName ?? "", country, consent }, now);
    const made = { id: randomUUID(), launchId: context.launch.id, contactId: contact.id, page, form: form.id, visitorId, consentText: consent };
    const given = tx.create(OptIn, { ...made, country: country ?? null, askedAt: now, confirmedAt: double ? null : now });
    await tx.insert(given);
    if (!double) {
      await keepAnswers(tx, contact, request, place);
      return enlist(tx, context, contact, given, visitorId, now);
    }
    if (!contact.consentAt) await keepAnswers(tx, contact, request, place);
    // A program that keeps no cookie is nobody's visit.
    if (visit.known !== false)
      await writeEvents(tx, [{ launchId: context.launch.id, visitorId, kind: "opt_in_asked", at: now, page, country, data: { form: form.id } }]);
    await queueEmail(tx, {
      key: `confirm:${given.id}`,
      kind: "confirm",
      launchId: context.launch.id,
      contactId: contact.id,
      dueAt: now,
      data: { optInId: given.id },
    });
  });
  return outcome;
};

/**
 * Confirms an opt-in from the inbox. The browser that asked, or one that is new here, is the person's from now on; another's
 * stays another's. What led the asking browser here is credited all the same. Doing it twice is the same as once. Undefined where there is no such opt-in of this launch.
 */
export const confirmOptIn = async (
  em: EntityManager,
  context: LaunchContext,
  optInId: string,
  visitorId: string,
  now: Date,
): Promise<OptIn | undefined> =>
  em.transactional(async (tx) => {
    // Pressed twice at once, the second waits here and finds it done.
    const given = await tx.findOne(OptIn, { id: optInId, launchId: context.launch.id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!given) return undefined;
    const contact = await tx.findOneOrFail(Contact, { id: given.contactId });
    if (given.confirmedAt) return given;
    const asker = await personOfVisitor(tx, given.visitorId);
    if (asker && asker !== contact.personId) {
      await shareTouches(tx, asker, contact.personId, given.launchId);
      await handOverView(tx, given.launchId, given.page, asker, contact.personId);
    }
    await proveInbox(tx, contact.id, now);
    await tieBrowser(tx, visitorId, contact.personId, visitorId === given.visitorId, now);
    await enlist(tx, context, contact, given, visitorId, now, true);
    return given;
  });

/** Stops all emails to a contact. Doing it twice is the same as once. */
export const unsubscribe = async (em: EntityManager, contactId: string, now: Date): Promise<void> => {
  const { id } = (await contactById(em, contactId)) ?? { id: contactId };
  await em.nativeUpdate(Contact, { id, unsubscribedAt: null }, { unsubscribedAt: now });
};
