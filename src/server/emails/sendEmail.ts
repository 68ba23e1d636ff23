import { confirmWords, letterWords, libraryWords, receiptWords, recoveryWords, renderEmail, welcomeWords, type EmailWords } from "../../core/emails";
import { fullMoment, phaseFor, view, windowFor, zoneCity, type Onlooker } from "../../core/launch";
import { recoveryStop } from "../../core/leaks";
import { formatMoney } from "../../core/money";
import { formsOf, mediaHref } from "../../core/pages";
import { countdownSentence } from "../../public/countdown";
import { Checkout, Contact, EmailMessage, Media, OptIn, Order, OrderLine } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { signLink } from "../app/signedLink";
import { heldWords, lineWords } from "../../core/offers";
import { heldCharges } from "../offers/sending";
import { libraryHref, linkDays } from "../people/buyers";
import { nextAddress } from "../offers/offerPath";
import { soldBy } from "../offers/quote";
import { loadBundle, type LaunchBundle } from "../launch/bundle";
import { onlookerOf } from "../launch/persons";
import { queue } from "../app/outbox";

type Composed = { words: EmailWords; advertising: boolean } | { stop: string } | { waitUntil: Date };

/** A link token by which a launch's pages and images know the reader's clock. It lets nobody act as them. */
export const personLink = (app: App, contactId: string): Promise<string> =>
  signLink(app.config.INKBELL_SECRET, "person", contactId, app.clock.now(), 180);

const composeReceipt = async (app: App, em: EntityManager, bundle: LaunchBundle, email: EmailMessage, contact: Contact): Promise<Composed> => {
  const order = await em.findOneOrFail(Order, { id: email.data.orderId! });
  const lineId = email.data.lineId;
  const lines = await em.find(OrderLine, { orderId: order.id, ...(lineId ? { id: lineId } : {}) });
  const money = (minor: number) => formatMoney(minor, order.currency);
  const sum = (pick: (line: OrderLine) => number) => money(lines.reduce((total, line) => total + pick(line), 0));
  const token = await signLink(app.config.INKBELL_SECRET, "order", order.id, app.clock.now(), 90);
  const held = (await heldCharges(em, order)).reduce((total, { amountMinor }) => total + amountMinor, 0);
  const words = receiptWords({
    firstName: contact.firstName,
    number: String(order.number),
    total: sum((l) => l.grossMinor),
    tax: sum((l) => l.taxMinor),
    lines: lines.map((line) => ({
      name: lineWords(line),
      gross: money(line.grossMinor),
      tax: money(line.taxMinor),
    })),
    ...(order.reverseCharge ? { vatNumber: order.vatNumber! } : {}),
    later: order.agreed.filter(({ to }) => to === "later_payments").map(({ words: said }) => said),
    test: order.test,
    ...(held > 0 ? { held: `${money(held)} of it: ${heldWords.replace("It", "it")}` } : {}),
    ...(order.test ? {} : { library: await libraryHref(app, contact.id, linkDays.receipt) }),
    // Who left before the end comes back to the very offer they left.
    link: `${app.config.origin}/l/${bundle.launch.slug}/${await nextAddress(em, bundle, order)}?o=${token}`,
  });
  return { words, advertising: false };
};

const composeRecovery = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  email: EmailMessage,
  contact: Contact,
  who: Onlooker,
): Promise<Composed> => {
  const now = app.clock.now();
  const checkout = await em.findOneOrFail(Checkout, { id: email.checkoutId! });
  const bought = await em.count(Order, { contactId: contact.id, launchId: bundle.launch.id });
  const delay = bundle.launch.recoveryDelayMinutes;
  const window = windowFor(bundle.plan, who, now);
  const stop = recoveryStop(
    { lastActivityAt: checkout.lastActivityAt, paid: checkout.paidAt !== null || bought > 0, unsubscribed: contact.unsubscribedAt !== null },
    delay,
    window,
    now,
  );
  if (stop === "active_again") return { waitUntil: new Date(checkout.lastActivityAt.getTime() + delay * 60_000) };
  if (stop) return { stop };
  const closes = `${fullMoment(window!.closes, bundle.launch.zone)}, ${zoneCity(bundle.launch.zone)} time`;
  const token = await signLink(app.config.INKBELL_SECRET, "restore_checkout", checkout.id, now, 30);
  const words = recoveryWords({
    firstName: contact.firstName,
    product: (await soldBy(em, bundle, checkout)).name,
    closes,
    link: `${app.config.origin}/l/${bundle.launch.slug}/checkout?r=${token}&k=${await personLink(app, contact.id)}${checkout.productId ? `&of=${checkout.productId}` : ""}`,
  });
  return { words, advertising: true };
};

/** The countdown of a person as an email shows it: the very instant that the pages show them. */
const emailCountdown = (app: App, { launch, plan }: LaunchBundle, who: Onlooker, token: string, now: Date): EmailWords["countdown"] => {
  const { countdown } = view(plan, who, now);
  return countdown && { src: `${app.config.origin}/c/${launch.slug}.png?k=${token}`, says: countdownSentence(countdown, launch.zone) };
};

const composeConfirm = async (app: App, em: EntityManager, bundle: LaunchBundle, email: EmailMessage, contact: Contact): Promise<Composed> => {
  const given = await em.findOne(OptIn, { id: email.data.optInId! });
  if (!given || given.confirmedAt) return { stop: "confirmed" };
  const { origin, INKBELL_SECRET } = app.config;
  const link = `${origin}/l/${bundle.launch.slug}/confirm?c=${await signLink(INKBELL_SECRET, "opt_in", given.id, app.clock.now(), 7)}`;
  return { words: confirmWords({ firstName: contact.firstName, launch: bundle.launch.name, link }), advertising: false };
};

/** What the form of an opt-in promised, by its address. */
const giftOf = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  email: EmailMessage,
): Promise<{ name: string; href: string } | undefined> => {
  const given = email.data.optInId ? await em.findOne(OptIn, { id: email.data.optInId }) : null;
  const page = given && bundle.pages.find(({ key }) => key === given.page);
  const form = page?.published && formsOf(page.published).find(({ id }) => id === given!.form);
  const file = form && form.gift ? await em.findOne(Media, { id: form.gift }) : null;
  return file ? { name: file.name, href: `${app.config.origin}${mediaHref(file, `file.${file.extension}`)}` } : undefined;
};

const composeWelcome = (
  app: App,
  bundle: LaunchBundle,
  contact: Contact,
  who: Onlooker,
  token: string,
  gift?: { name: string; href: string },
): Composed => {
  const now = app.clock.now();
  const { launch, plan } = bundle;
  const phase = phaseFor(plan, who, now);
  if (phase === "after") return { stop: "doors_closed" };
  const countdown = emailCountdown(app, bundle, who, token, now);
  const link = `${app.config.origin}/l/${launch.slug}?k=${token}`;
  const words = welcomeWords({
    firstName: contact.firstName,
    launch: launch.name,
    bell: countdown?.says,
    link,
    open: phase === "during",
    countdown,
    gift,
  });
  return { words, advertising: true };
};

const composeLetter = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  email: EmailMessage,
  contact: Contact,
  who: Onlooker,
  token: string,
): Promise<Composed> => {
  const now = app.clock.now();
  const { launch, plan } = bundle;
  const letter = plan.settings.letters.find(({ id }) => id === email.data.letter);
  if (!letter) return { stop: "letter_withdrawn" };
  if (letter.to === "not_bought" && (await em.count(Order, { contactId: contact.id, launchId: launch.id })) > 0) return { stop: "paid" };
  if (plan.clock.kind === "personal") {
    if (who.stop) return { stop: "clock_stopped" };
    // The clock may have been set anew since the letter was queued: it goes by the deadline that holds now.
    const opens = new Date(email.data.opens ?? now);
    const window = windowFor(plan, who, opens);
    if (!window || window.opens.getTime() !== opens.getTime()) return { stop: "clock_merged" };
    const due = new Date((letter.hangsOn === "opening" ? window.opens : window.closes).getTime() + letter.minutes * 60_000);
    if (due > now) return { waitUntil: due };
    if (due < window.closes && now >= window.closes) return { stop: "doors_closed" };
  }
  const link = `${app.config.origin}/l/${launch.slug}?k=${token}`;
  const countdown = emailCountdown(app, bundle, who, token, now);
  return { words: letterWords({ firstName: contact.firstName, subject: letter.subject, text: letter.text, link, countdown }), advertising: true };
};

const compose = async (app: App, em: EntityManager, email: EmailMessage, contact: Contact): Promise<Composed> => {
  const bundle = (await loadBundle(em, { id: email.launchId }))!;
  if (email.kind === "confirm") return composeConfirm(app, em, bundle, email, contact);
  if (email.kind === "receipt") return composeReceipt(app, em, bundle, email, contact);
  if (email.kind === "library")
    return { words: libraryWords({ firstName: contact.firstName, link: await libraryHref(app, contact.id, linkDays.asked) }), advertising: false };
  const who = await onlookerOf(em, bundle, { contactId: contact.id });
  if (email.kind === "recovery") return composeRecovery(app, em, bundle, email, contact, who);
  if (contact.unsubscribedAt) return { stop: "unsubscribed" };
  const token = await personLink(app, contact.id);
  return email.kind === "letter"
    ? composeLetter(app, em, bundle, email, contact, who, token)
    : composeWelcome(app, bundle, contact, who, token, await giftOf(app, em, bundle, email));
};

/**
 * Sends one queued email. Idempotent: a row that is not due any more is left alone, and the row is locked while it is
 * sent. A crash between the mail server's yes and our commit sends again with the same Message-ID.
 */
export const sendEmail = async (app: App, id: string): Promise<void> => {
  await app.fork().transactional(async (em) => {
    await em.execute("select 1 from email_message where id = ? for update", [id]);
    const email = await em.findOne(EmailMessage, { id });
    const now = app.clock.now();
    if (!email || email.state !== "due") return;
    const contact = await em.findOneOrFail(Contact, { id: email.contactId });
    const composed = await compose(app, em, email, contact);
    if ("waitUntil" in composed) {
      email.dueAt = composed.waitUntil;
      await queue(em, "send_email", { id }, composed.waitUntil, `email:${id}`);
      return;
    }
    if ("stop" in composed) {
      email.state = "stopped";
      email.stoppedBecause = composed.stop;
      return;
    }
    const unsubscribe = composed.advertising
      ? `${app.config.origin}/unsubscribe?u=${await signLink(app.config.INKBELL_SECRET, "unsubscribe", contact.id, now, 365)}`
      : undefined;
    const { text, html } = renderEmail(composed.words, app.config.INKBELL_VENDOR, unsubscribe);
    const host = new URL(app.config.origin).hostname;
    await app.mailer.send({
      to: contact.email,
      from: app.config.INKBELL_MAIL_FROM,
      subject: composed.words.subject,
      text,
      html,
      unsubscribe,
      messageId: `<${id}@${host}>`,
    });
    email.state = "sent";
    email.sentAt = now;
  });
};
