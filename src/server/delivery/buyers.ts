import { type LaunchContext, launchesOf } from "../launch";
import { formatMoney } from "../../core/money";
import { lineRoles, withParts } from "../../core/offers";
import { normaliseEmail } from "../../core/people";
import { proveInbox } from "../../store/people/proveInbox";
import { RecurringPayment, Contact, Order, OrderLine, Product, Refund } from "../../store/tables";
import { contactByEmail, contactById } from "../../store/people/persons";
import type { EntityManager } from "../../store/orm";
import {
  type App,
  beginSession,
  endSessions,
  hashPassword,
  limit,
  mustBePassword,
  readLink,
  Refusal,
  required,
  sessionSubject,
  signLink,
  useUp,
} from "../platform";
import { launchOfBuyer } from "../../store/delivery/launchOfBuyer";
import { queueEmail } from "../../store/emails/queueEmail";
import { endRecurringPayment, type RecurringPaymentLine, recurringPaymentLines } from "../payments";
import { orderHref } from "../checkout";
import { becomePerson } from "../identity";

/** The buyer who is signed in with this token, or undefined. */
export const buyerOf = async (em: EntityManager, token: string | undefined, now: Date): Promise<Contact | undefined> => {
  const id = await sessionSubject(em, "buyer", token, now);
  return id ? ((await contactById(em, id)) ?? undefined) : undefined;
};

/**
 * Sends a link into the library to an address that has bought something or was given access to it, at most once a minute. What is answered is the
 * same where it has not: nobody finds out who bought.
 */
export const askForLibraryLink = async (app: App, em: EntityManager, typed: string, from: string): Promise<void> => {
  const now = app.clock.now();
  const email = normaliseEmail(typed);
  await limit(em, now, `library:${from}:${email}`, 10, 300);
  const contact = await contactByEmail(em, email);
  const launchId = contact && (await launchOfBuyer(em, contact.id));
  if (!contact || !launchId) return;
  const key = `library:${contact.id}:${Math.floor(now.getTime() / 60_000)}`;
  await em.transactional((tx) => queueEmail(tx, { key, kind: "library", launchId, contactId: contact.id, dueAt: now, data: {} }));
};

/** How long a link into the library holds, in days: one that was asked for, and the one of a receipt. */
export const linkDays = { asked: 1, receipt: 30 } as const;

/** The address that opens a contact's library. Whoever reads their emails is let in. */
export const libraryHref = ({ config, clock }: App, contactId: string, days: number): string =>
  `${config.origin}/library/open?t=${signLink(config.INKBELL_SECRET, "library", contactId, clock.now(), days)}`;

const linkOver = (): Refusal => new Refusal({ code: "link_over", to: "library" });

/** An address as it may be shown to whoever holds a link: enough for its owner to know it, no more. */
const maskedEmail = (email: string): string => email.replace(/^(.)[^@]*(@.).*(\.[^.]+)$/, "$1…$2…$3");

/** Whose library a link would open, before anybody has pressed for it. */
export const libraryLinkOwner = async (app: App, token: string | null): Promise<string> => {
  const id = readLink(app.config.INKBELL_SECRET, "library", token, app.clock.now());
  const contact = id ? await contactById(app.fork(), id) : null;
  if (!contact) throw linkOver();
  return maskedEmail(contact.email);
};

/**
 * Signs a buyer in by the link of an email, in the browser in which somebody pressed for it, and answers the session's
 * token. A link holds once: forwarded or found later, it opens nothing.
 */
export const openLibrary = async (app: App, token: string | null, visitorId: string | undefined): Promise<string> => {
  const now = app.clock.now();
  const id = readLink(app.config.INKBELL_SECRET, "library", token, now);
  return app.fork().transactional(async (tx) => {
    const contact = id ? await contactById(tx, id) : null;
    if (!contact || !(await useUp(tx, token!, now, linkDays.receipt))) throw linkOver();
    // A link to another address of theirs proves that one.
    if (contact.id === id) await proveInbox(tx, id, now);
    // Whoever pressed was told whose library it is: their deadlines and credit are those of this browser from now on.
    if (visitorId) await becomePerson(tx, visitorId, contact.personId, now);
    return beginSession(tx, "buyer", contact.id, now);
  });
};

/** Sets a buyer's password, and ends their sessions but this one. */
export const setBuyerPassword = async (app: App, em: EntityManager, buyer: Contact, password: string): Promise<string> => {
  mustBePassword(password);
  const passwordHash = await hashPassword(password);
  return em.transactional(async (tx) => {
    await tx.nativeUpdate(Contact, { id: buyer.id }, { passwordHash });
    await endSessions(tx, "buyer", buyer.id, { butToken: undefined });
    return beginSession(tx, "buyer", buyer.id, app.clock.now());
  });
};

export interface LibraryOrder {
  id: string;
  number: number;
  launch: string;
  placedAt: Date;
  zone: string;
  lines: { name: string; contents?: string; gross: string }[];
  total: string;
  /** What was given back, in all. */
  back?: string;
  /** Its receipt, or the offer at which its buyer left. */
  href: string;
  recurring: Omit<RecurringPaymentLine, "orderId">[];
}

/** What a buyer has bought, the newest first. */
export const libraryOf = async (app: App, em: EntityManager, buyer: Contact): Promise<LibraryOrder[]> => {
  const orders = await em.find(Order, { contactId: buyer.id, test: false }, { orderBy: { placedAt: -1 } });
  const ids = orders.map(({ id }) => id);
  const launches = new Map<string, LaunchContext>();
  for (const { launchId } of orders) launches.set(launchId, launches.get(launchId) ?? required(await launchesOf(app).byId(launchId), "launch"));
  const [lines, recurring, refunds] = await Promise.all([
    app.fork().find(OrderLine, { orderId: { $in: ids } }),
    recurringPaymentLines(app.fork(), orders, ({ launchId }) => launches.get(launchId)!.launch.zone),
    app.fork().find(Refund, { orderId: { $in: ids }, state: "succeeded" }),
  ]);
  const out: LibraryOrder[] = [];
  for (const order of orders) {
    const context = launches.get(order.launchId)!;
    const money = (minor: number) => formatMoney(minor, order.currency);
    const own = lines.filter(({ orderId }) => orderId === order.id).sort((a, b) => lineRoles.indexOf(a.role) - lineRoles.indexOf(b.role));
    const back = refunds.filter(({ orderId }) => orderId === order.id).reduce((sum, { amountMinor }) => sum + amountMinor, 0);
    out.push({
      id: order.id,
      number: order.number,
      launch: context.launch.name,
      placedAt: order.placedAt,
      zone: context.launch.zone,
      lines: own.map(({ name, contents, grossMinor }) => ({ name, contents: withParts(contents), gross: money(grossMinor) })),
      total: money(own.reduce((sum, { grossMinor }) => sum + grossMinor, 0)),
      ...(back > 0 ? { back: money(back) } : {}),
      href: await orderHref(app, em, context, order, 1),
      recurring: recurring.filter(({ orderId }) => orderId === order.id).map(({ id, words, ends }) => ({ id, words, ends })),
    });
  }
  return out;
};

/** Ends a subscription of this buyer's. */
export const endOwnRecurringPayment = async (app: App, em: EntityManager, buyer: Contact, id: string): Promise<void> => {
  const recurringPayment = required(await em.findOne(RecurringPayment, { id }), "subscription");
  required(await em.findOne(Order, { id: recurringPayment.orderId, contactId: buyer.id }), "subscription");
  const product = await em.findOneOrFail(Product, { id: recurringPayment.productId });
  if (product.terms.kind !== "subscription") throw new Refusal({ code: "owed" });
  await endRecurringPayment(em, recurringPayment.id, "by_buyer", app.clock.now());
};
