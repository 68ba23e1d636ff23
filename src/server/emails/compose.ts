import { usedCode } from "../../store/reports/usedCode";
import { senderOf } from "./sender";
import type { OutgoingMail } from "../../outside/mailer";
import { confirmWords, letterWords, libraryWords, receiptWords, recoveryWords, renderEmail, welcomeWords, type EmailWords } from "../../core/emails";
import { allTaken, availability, fullMoment, overtaken, phaseFor, view, windowFor, zoneCity, type Viewer } from "../../core/launch";
import { recoveryStop } from "../../core/leaks";
import { formatMoney, orderNumber } from "../../core/money";
import { formsOf, mediaHref } from "../../core/pages";
import { countdownSentence } from "../../public/countdown";
import type { EmailMessage } from "../../store/entities";
import { Checkout, Contact, Media, OptIn, Order, OrderLine } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { signLink } from "../app/signedLink";
import { authorizedWords, lineWords } from "../../core/offers";
import { authorizedCharges } from "../offers/fulfil";
import { libraryHref, linkDays } from "../people/buyers";
import { orderHref } from "../offers/offerPath";
import { soldBy } from "../offers/quote";
import type { LaunchContext } from "../launch/launchContext";
import { isListed, viewerOf } from "../launch/persons";

/** Whether somebody has bought, and whether a seat is left for them. */
interface Chances {
  bought: boolean;
  soldOut: boolean;
}
/** Who is written to, by the name that may be used. */
type Addressee = Pick<Contact, "id" | "firstName" | "unsubscribedAt">;
type Composed = { words: EmailWords; advertising: boolean } | { stop: string } | { waitUntil: Date };

/** A link token by which a launch's pages and images know the reader's clock. It lets nobody act as them. */
export const personLink = (app: App, contactId: string): string => signLink(app.config.INKBELL_SECRET, "person", contactId, app.clock.now(), 180);

const composeReceipt = async (app: App, em: EntityManager, context: LaunchContext, email: EmailMessage, contact: Contact): Promise<Composed> => {
  const order = await em.findOneOrFail(Order, { id: email.data.orderId! });
  const lineId = email.data.lineId;
  const lines = await em.find(OrderLine, { orderId: order.id, ...(lineId ? { id: lineId } : {}) });
  const money = (minor: number) => formatMoney(minor, order.currency);
  const sum = (pick: (line: OrderLine) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
  const authorized = (await authorizedCharges(em, order)).reduce((total, { amountMinor }) => total + amountMinor, 0);
  const used = await usedCode(em, order);
  const discount = lines.reduce((total, line) => total + line.discountMinor, 0);
  const words = receiptWords({
    firstName: contact.firstName,
    number: orderNumber(order.number),
    total: sum((l) => l.grossMinor),
    tax: sum((l) => l.taxMinor),
    lines: lines.map((line) => ({
      name: lineWords(line),
      gross: money(line.grossMinor),
      tax: money(line.taxMinor),
    })),
    ...(order.reverseCharge ? { vatNumber: order.vatNumber! } : {}),
    ...(used && discount > 0 ? { code: { name: used.code, discount: money(discount) } } : {}),
    recurring: order.agreed.filter(({ to }) => to === "later_payments").map(({ words: said }) => said),
    test: order.test,
    ...(authorized > 0 ? { authorized: `${money(authorized)} of it: ${authorizedWords.replace("It", "it")}` } : {}),
    ...(order.test ? {} : { library: libraryHref(app, contact.id, linkDays.receipt) }),
    // Who left before the end comes back to the very offer they left.
    link: `${app.config.origin}${await orderHref(app, em, context, order, 90)}`,
  });
  return { words, advertising: false };
};

const composeRecovery = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  email: EmailMessage,
  contact: Addressee,
  who: Viewer,
  { bought, soldOut }: Chances,
): Promise<Composed> => {
  const now = app.clock.now();
  const checkout = await em.findOneOrFail(Checkout, { id: email.checkoutId! });
  const delay = context.launch.recoveryDelayMinutes;
  const window = windowFor(context.plan, who, now);
  const stop = recoveryStop(
    { lastActivityAt: checkout.lastActivityAt, paid: checkout.paidAt !== null || bought, unsubscribed: contact.unsubscribedAt !== null },
    delay,
    window,
    now,
  );
  if (stop === "active_again") return { waitUntil: new Date(checkout.lastActivityAt.getTime() + delay * 60_000) };
  if (stop) return { stop };
  if (soldOut && !checkout.productId) return { stop: "sold_out" };
  const closes = `${fullMoment(window!.closes, context.launch.zone)}, ${zoneCity(context.launch.zone)} time`;
  const token = signLink(app.config.INKBELL_SECRET, "restore_checkout", checkout.id, now, 30);
  const words = recoveryWords({
    firstName: contact.firstName,
    product: (await soldBy(em, context, checkout)).name,
    closes,
    link: `${app.config.origin}/l/${context.launch.slug}/checkout?r=${token}&k=${personLink(app, contact.id)}${checkout.productId ? `&of=${checkout.productId}` : ""}`,
  });
  return { words, advertising: true };
};

/** The countdown of a person as an email shows it: the very instant that the pages show them. */
const emailCountdown = (app: App, { launch, plan }: LaunchContext, who: Viewer, token: string, now: Date): EmailWords["countdown"] => {
  const { countdown } = view(plan, who, now);
  return countdown && { src: `${app.config.origin}/c/${launch.slug}.png?k=${token}`, says: countdownSentence(countdown, launch.zone) };
};

const composeConfirm = async (app: App, em: EntityManager, context: LaunchContext, email: EmailMessage): Promise<Composed> => {
  const given = await em.findOne(OptIn, { id: email.data.optInId! });
  if (!given || given.confirmedAt) return { stop: "confirmed" };
  const { origin, INKBELL_SECRET } = app.config;
  const link = `${origin}/l/${context.launch.slug}/confirm?c=${signLink(INKBELL_SECRET, "opt_in", given.id, app.clock.now(), 7)}`;
  return { words: confirmWords({ launch: context.launch.name, link }), advertising: false };
};

/** What the form of an opt-in promised, by its address. */
const giftOf = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  email: EmailMessage,
): Promise<{ name: string; href: string } | undefined> => {
  const given = email.data.optInId ? await em.findOne(OptIn, { id: email.data.optInId }) : null;
  const page = given && context.pages.find(({ key }) => key === given.page);
  const form = page?.published && formsOf(page.published).find(({ id }) => id === given!.form);
  const file = form && form.gift ? await em.findOne(Media, { id: form.gift }) : null;
  return file ? { name: file.name, href: `${app.config.origin}${mediaHref(file, `file.${file.extension}`)}` } : undefined;
};

const composeWelcome = (
  app: App,
  context: LaunchContext,
  contact: Addressee,
  who: Viewer,
  token: string,
  soldOut: boolean,
  gift?: { name: string; href: string },
): Composed => {
  const now = app.clock.now();
  const { launch, plan } = context;
  const phase = phaseFor(plan, who, now);
  if (phase === "after") return { stop: "doors_closed" };
  const full = phase === "during" && soldOut;
  const countdown = full ? undefined : emailCountdown(app, context, who, token, now);
  const link = `${app.config.origin}/l/${launch.slug}?k=${token}`;
  const words = welcomeWords({
    firstName: contact.firstName,
    launch: launch.name,
    bell: full ? `${allTaken(plan.settings.seats!)}; you stand on the list` : countdown?.says,
    link,
    open: phase === "during" && !full,
    countdown,
    gift,
  });
  return { words, advertising: true };
};

const composeLetter = (
  app: App,
  context: LaunchContext,
  email: EmailMessage,
  contact: Addressee,
  who: Viewer,
  token: string,
  { bought, soldOut }: Chances,
): Composed => {
  const now = app.clock.now();
  const { launch, plan } = context;
  const letter = plan.settings.letters.find(({ id }) => id === email.data.letter);
  if (!letter) return { stop: "letter_withdrawn" };
  if (letter.to === "not_bought" && bought) return { stop: "paid" };
  const opens = email.data.opens ? new Date(email.data.opens) : undefined;
  if (plan.clock.kind === "personal" && who.stop) return { stop: "clock_stopped" };
  // The clock may have been set anew since the letter was queued: it goes by the deadline that holds now.
  const window = windowFor(plan, who, opens ?? now) ?? windowFor(plan, who, email.dueAt);
  if (plan.clock.kind === "personal" && (!window || window.opens.getTime() !== opens?.getTime())) return { stop: "clock_merged" };
  if (window) {
    const due = new Date((letter.hangsOn === "opening" ? window.opens : window.closes).getTime() + letter.minutes * 60_000);
    if (due > now) return { waitUntil: due };
    const stop = overtaken(letter, plan.settings.letters, window, now);
    if (stop) return { stop };
    // Whatever it says of open doors: nobody is sent to a seat that is not there.
    if (soldOut && now >= window.opens && now < window.closes) return { stop: "sold_out" };
  }
  const link = `${app.config.origin}/l/${launch.slug}?k=${token}`;
  const countdown = emailCountdown(app, context, who, token, now);
  return { words: letterWords({ firstName: contact.firstName, subject: letter.subject, text: letter.text, link, countdown }), advertising: true };
};

/** What is found out once for all emails that are made together. */
export interface Batch {
  app: App;
  em: EntityManager;
  contacts: Map<string, Contact>;
  /** Contacts that have bought, by launch. */
  bought: Set<string>;
}

const boughtKey = (launchId: string, contactId: string): string => `${launchId}/${contactId}`;

/** Reads what a batch of emails needs, in as many statements as for one. */
export const batchOf = async (app: App, emails: readonly Pick<EmailMessage, "contactId" | "launchId" | "bulk">[]): Promise<Batch> => {
  const em = app.fork();
  const contacts = await em.find(Contact, { id: { $in: emails.map(({ contactId }) => contactId) } });
  const asked = emails.filter(({ bulk }) => bulk).map(({ contactId }) => contactId);
  const buyers =
    asked.length === 0
      ? []
      : await em.execute<{ launch_id: string; contact_id: string }[]>(
          "select distinct launch_id, contact_id from sale_order where contact_id = any(?::uuid[]) and not test",
          [`{${asked.join(",")}}`],
        );
  return {
    app,
    em,
    contacts: new Map(contacts.map((contact) => [contact.id, contact])),
    bought: new Set(buyers.map((row) => boughtKey(row.launch_id, row.contact_id))),
  };
};

const compose = async (batch: Batch, email: EmailMessage): Promise<{ composed: Composed; to: Contact }> => {
  const { app, em } = batch;
  const contact = batch.contacts.get(email.contactId)!;
  const context = (await app.launches.byId(email.launchId))!;
  const bought = batch.bought.has(boughtKey(email.launchId, email.contactId));
  // A name that anyone may have typed is not sent to an inbox that nobody has opened.
  const firstName = contact.provenAt ? contact.firstName : "";
  const named = { ...contact, firstName };
  const answer = async (): Promise<Composed> => {
    if (email.kind === "confirm") return composeConfirm(app, em, context, email);
    if (email.kind === "receipt") return composeReceipt(app, em, context, email, contact);
    if (email.kind === "library")
      return { words: libraryWords({ firstName, link: libraryHref(app, contact.id, linkDays.asked) }), advertising: false };
    const who = await viewerOf(em, context, { contactId: contact.id });
    const soldOut = await isSoldOut(app, em, context, contact);
    if (email.kind === "recovery") return composeRecovery(app, em, context, email, named, who, { bought, soldOut });
    if (contact.unsubscribedAt) return { stop: "unsubscribed" };
    const token = personLink(app, contact.id);
    return email.kind === "letter"
      ? composeLetter(app, context, email, named, who, token, { bought, soldOut })
      : composeWelcome(app, context, named, who, token, soldOut, await giftOf(app, em, context, email));
  };
  return { composed: await answer(), to: contact };
};

/** Whether no seat is left for a contact. */
const isSoldOut = async (app: App, em: EntityManager, context: LaunchContext, { personId }: Contact): Promise<boolean> => {
  if (context.plan.settings.seats === null) return false;
  const open = availability(context.plan, await app.counters.of(context));
  return open === "sold_out" || (open === "list_only" && !(await isListed(em, context.launch.id, personId)));
};

/** An email as it is sent now; or why it is not, or when it will be. */
export type Ready = { mail: OutgoingMail } | { stop: string } | { waitUntil: Date };

/** Makes an email of a batch as it stands at this moment. */
export const readyEmail = async (batch: Batch, email: EmailMessage): Promise<Ready> => {
  const { app } = batch;
  const { composed, to } = await compose(batch, email);
  if (!("words" in composed)) return composed;
  const { origin, INKBELL_SECRET } = app.config;
  const unsubscribe = composed.advertising
    ? `${origin}/unsubscribe?u=${signLink(INKBELL_SECRET, "unsubscribe", to.id, app.clock.now(), 365)}`
    : undefined;
  const { text, html } = renderEmail(composed.words, app.vendor.name, unsubscribe);
  const messageId = `<${email.id}@${new URL(origin).hostname}>`;
  return { mail: { to: to.email, from: senderOf(app), subject: composed.words.subject, text, html, unsubscribe, messageId } };
};
