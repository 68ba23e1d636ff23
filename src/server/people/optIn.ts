import type { OptInRequest } from "../../core/people";
import { Contact } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { limit } from "../app/rateLimit";
import { queueEmail } from "../emails/queueEmail";
import type { LaunchBundle } from "../launch/bundle";
import { startClock } from "../launch/persons";
import { writeEvents } from "./eventLog";
import { contactOf } from "./identity";

/** The sentence beside the tick box; kept with each consent as it was shown. */
export const consentSentence = (vendor: string) => `Yes, ${vendor} may write to me about this launch. I can stop the letters with one click.`;

/** Puts a person on the list. The outcome is the same whether the address was known or not. */
export const optIn = async (
  em: EntityManager,
  bundle: LaunchBundle,
  request: OptInRequest,
  context: { visitorId: string; vendor: string; from: string; now: Date; country?: string; page: string },
): Promise<void> => {
  const { now, visitorId } = context;
  await limit(em, now, `opt-in:${context.from}`, 60, 300);
  // Whoever fills the field that nobody sees is thanked like everyone, and forgotten.
  if (request.website) return;
  await em.transactional(async (tx) => {
    const contact = await contactOf(tx, visitorId, { ...request, firstName: request.firstName ?? "" }, now);
    await tx.nativeUpdate(Contact, { id: contact.id }, { consentText: consentSentence(context.vendor), consentAt: now, unsubscribedAt: null });
    const { clock } = bundle.plan;
    const form = context.page;
    // On the form that was chosen, or on any.
    if (clock.kind === "personal" && clock.trigger.on === "opt_in" && (clock.trigger.page === null || clock.trigger.page === form))
      await startClock(tx, bundle, contact.personId, "opt_in", now, visitorId);
    await writeEvents(tx, [{ launchId: bundle.launch.id, visitorId, kind: "opted_in", at: now, page: form, country: context.country }]);
    await queueEmail(tx, {
      key: `welcome:${bundle.launch.id}:${contact.id}`,
      kind: "welcome",
      launchId: bundle.launch.id,
      contactId: contact.id,
      dueAt: now,
    });
  });
};

/** Stops all letters to a contact. Doing it twice is the same as once. */
export const unsubscribe = async (em: EntityManager, contactId: string, now: Date): Promise<void> => {
  await em.nativeUpdate(Contact, { id: contactId, unsubscribedAt: null }, { unsubscribedAt: now });
};
