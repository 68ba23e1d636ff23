import { clockStarts } from "../../store/launch/clockStarts";
import { factsOfContact } from "../../store/people/factsOfContact";
import { randomUUID } from "node:crypto";
import { mayStart, type LaunchPlan, type LaunchSettings, type Viewer, type Trigger, longestRun, unlocksByOptIn, phaseFor } from "../../core/launch";
import { addStart, addStop, lockStarts, startsOf, stopOf } from "../../store/launch/clocks";
import type { EntityManager } from "../../store/orm";
import { contactById, joinedAt, personOfContact, personOfVisitor } from "../../store/people/persons";
import { type App, readLink } from "../platform";
import { personOf } from "../identity";
import type { LaunchContext } from "./launchContext";
import { queuePersonalEmails } from "./bellEmails";

/**
 * Who looks, as far as is known. A signed link comes first, then what an earlier link left in this browser, then the
 * visitor's cookie; whoever holds a forwarded link sees its owner's clock, and is still only a visitor to the checkout.
 */
export interface Identity {
  /** The contact a signed link names. */
  contactId?: string;
  visitorId?: string;
}

/** The identity behind a request, from its link (or the link kept in the browser) and its cookie. */
export const identify = (app: App, request: { link?: string | null; keptLink?: string | null; visitorId?: string }, now: Date): Identity => {
  const secret = app.config.INKBELL_SECRET;
  const contactId = readLink(secret, "person", request.link, now) ?? readLink(secret, "person", request.keptLink, now);
  return { contactId, visitorId: request.visitorId };
};

/** The person of an identity: that of its link, else that of its visitor. Undefined where neither was seen before. */
export const personIdOf = async (em: EntityManager, { contactId, visitorId }: Identity): Promise<string | undefined> => {
  if (contactId) return personOfContact(em, contactId);
  return visitorId ? personOfVisitor(em, visitorId) : undefined;
};

/** Whether what a launch shows depends on who looks. */
export const isPersonal = (plan: LaunchPlan): boolean => plan.clock.kind === "personal" || plan.settings.stops.length > 0 || unlocksByOptIn(plan);

/** When whoever looks joined the list of a launch; undefined where they did not, or nobody knows who they are. */
export const listedSince = async (em: EntityManager, { launch }: Pick<LaunchContext, "launch">, identity: Identity): Promise<Date | undefined> => {
  const person = await personIdOf(em, identity);
  return person ? joinedAt(em, launch.id, person) : undefined;
};

/** Whether a person stands on the list of a launch. */
export const isListed = async (em: EntityManager, launchId: string, personId: string): Promise<boolean> =>
  (await joinedAt(em, launchId, personId)) !== undefined;

/** What the clock knows of who looks. A link's owner is judged by their own starts; without a link, this browser's count as well. */
export const viewerOf = async (em: EntityManager, context: LaunchContext, identity: Identity): Promise<Viewer> => {
  if (!isPersonal(context.plan)) return {};
  const person = await personIdOf(em, identity);
  const starts = await startsOf(em, context.launch.id, person ? [person] : [], identity.contactId ? undefined : identity.visitorId);
  return {
    starts,
    stop: person ? await stopOf(em, context.launch.id, person) : undefined,
    subscribedAt: person && unlocksByOptIn(context.plan) ? await joinedAt(em, context.launch.id, person) : undefined,
  };
};

/**
 * What the clock knows of who acts: the buyer at a checkout. Every identity at hand counts, so that neither a second
 * address nor somebody else's link gives more time than the least of them.
 */
export const actingViewer = async (em: EntityManager, context: LaunchContext, contactPersonId: string, identity: Identity): Promise<Viewer> => {
  if (!isPersonal(context.plan)) return {};
  const linked = identity.contactId ? await personIdOf(em, identity) : undefined;
  const people = [...new Set([contactPersonId, ...(linked ? [linked] : [])])];
  return {
    starts: await startsOf(em, context.launch.id, people, identity.visitorId),
    stop: await stopOf(em, context.launch.id, contactPersonId),
  };
};

type StartCause = Trigger["on"] | "hand_over";

/** Starts a person's clock where the rule lets it start, and queues the emails that hang on its end. Answers whether it started. */
export const startClock = async (
  em: EntityManager,
  context: LaunchContext,
  personId: string,
  cause: StartCause,
  at: Date,
  visitorId?: string,
): Promise<boolean> => {
  const { plan, launch } = context;
  if (plan.clock.kind !== "personal") return false;
  await lockStarts(em, launch.id, personId);
  const starts = await startsOf(em, launch.id, [personId], visitorId);
  // Of two visits at once the later may have come first to the lock: its start holds for both.
  if (starts.some((start) => start >= at) || !mayStart(plan.clock, plan.zone, starts, at)) return false;
  await addStart(em, { id: randomUUID(), launchId: launch.id, personId, visitorId, at, trigger: cause });
  await queuePersonalEmails(em, context, personId, { starts: [...starts, at] }, at);
  return true;
};

/** Whether a visit to a page starts the clock of a launch. */
export const visitStarts = ({ clock }: LaunchPlan, pageKey: string): "first_visit" | "page" | undefined => {
  if (clock.kind !== "personal") return undefined;
  if (clock.trigger.on === "first_visit") return "first_visit";
  return clock.trigger.on === "page" && clock.trigger.page === pageKey ? "page" : undefined;
};

/** Starts the clock of who visits, with the visitor recorded where it is new. */
export const startByVisit = async (
  em: EntityManager,
  context: LaunchContext,
  identity: Identity,
  cause: "first_visit" | "page",
  at: Date,
): Promise<boolean> =>
  em.transactional(async (tx) => {
    if (identity.contactId) {
      const person = await personIdOf(tx, identity);
      return person ? startClock(tx, context, person, cause, at) : false;
    }
    if (!identity.visitorId) return false;
    return startClock(tx, context, await personOf(tx, identity.visitorId, at), cause, at, identity.visitorId);
  });

/** Stops a person's clock and, where another launch takes over, starts it there. The first stop holds. */
export const stopClock = async (
  em: EntityManager,
  load: (launchId: string) => Promise<LaunchContext | undefined>,
  launchId: string,
  personId: string,
  because: string,
  handTo: string | null,
  at: Date,
): Promise<void> => {
  if (!(await addStop(em, { launchId, personId, at, because, handTo })) || !handTo) return;
  const next = await load(handTo);
  if (next) await startClock(em, next, personId, "hand_over", at);
};

/** What a purchase of a product stops. */
export const stopsAtPurchase = ({ stops }: LaunchSettings, productId: string) =>
  stops.find((stop) => stop.on === "purchase" && (stop.product === null || stop.product === productId));

/** What a visit to a page stops. */
export const stopsAtPage = ({ stops }: LaunchSettings, pageKey: string) => stops.find((stop) => stop.on === "page" && stop.page === pageKey);

/** All the facts the clock knows of a contact, for looking at a launch as that person. */
export const viewerOfContact = async (
  em: EntityManager,
  context: LaunchContext,
  contactId: string,
): Promise<(Viewer & { name: string; email: string; zone: string | null }) | undefined> => {
  const contact = await contactById(em, contactId);
  if (!contact) return undefined;
  const facts = await factsOfContact(em, context.launch.id, contact);
  return {
    name: contact.firstName,
    email: contact.email,
    zone: contact.zone ?? contact.guessedZone ?? null,
    starts: await startsOf(em, context.launch.id, [contact.personId], undefined),
    stop: await stopOf(em, context.launch.id, contact.personId),
    checkoutBegunAt: facts.begun,
    orderedAt: facts.ordered,
    subscribedAt: facts.optedIn,
  };
};

/** How many people's own clocks run at an instant: started, not over, not stopped. */
export const runningClocks = async (em: EntityManager, launchId: string, plan: LaunchPlan, at: Date): Promise<number> => {
  if (plan.clock.kind !== "personal") return 0;
  let running = 0;
  for await (const people of clockStarts(em, launchId, at, new Date(at.getTime() - longestRun(plan.clock.length))))
    running += people.filter(({ starts, stopped }) => !stopped && phaseFor(plan, { starts }, at) === "during").length;
  return running;
};
