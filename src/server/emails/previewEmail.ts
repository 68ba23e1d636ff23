import { randomUUID } from "node:crypto";
import {
  isHung,
  oneOffDueAt,
  emailRun,
  stepDueAt,
  usualViewer,
  type EmailFacts,
  type EmailKindName,
  type HungKind,
  type ReceiptFacts,
} from "../../core/emails";
import type { Viewer } from "../../core/launch";
import { formatMoney } from "../../core/money";
import { taxName } from "../../core/words";
import { fillEmail, type WrittenEmail } from "../../public/emails/fillEmail";
import { buyersAmong, optedOutAmong } from "../../store/emails/amongContacts";
import { momentsOf } from "../../store/emails/sequences/sequences";
import { meets } from "../../store/people/find/peopleWho";
import { contactById } from "../../store/people/persons";
import { Order, type Contact, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { sendingLimitsOf } from "../../store/settings/sending";
import { drawCountdown, viewerOf, type LaunchContext } from "../launch";
import { MailFailed } from "../../outside/mailer";
import { type App, mustBeAllowed, Refusal, required, senderOf, signerFor } from "../platform";
import { withoutVariant } from "../../core/pages";
import { compileContent, kindOfKey, publishedContent, usualContent, variantFor } from "./contents";
import { newEmail } from "./draftEmail";
import type { Composed, KindFacts } from "./emailKind";
import { bell } from "./kinds/bell";
import { receiptOf } from "./kinds/receipt";
import { readerFacts } from "./readerFacts";
import { timingOf } from "./oneOff/timing";
import { zoneOfReader } from "./zoneOfReader";

/** What an email says of somebody, and when it goes to them. */
export interface PreviewFacts {
  kind: EmailKindName;
  facts: EmailFacts;
  /** When it goes to them; null where no clock of theirs has started. */
  at: Date | null;
  /** Their zone, where it is known. */
  zone: string | null;
  /** Why it does not go to them. */
  stop: string | null;
  /** Who reads it; undefined for anybody. */
  personId: string | undefined;
}

// A preview leads to the launch as everybody sees it, and unsubscribes nobody.
const token = "preview";

/** The newest receipt there is to be shown: of the person, else of anybody in the launch, else one of what it sells. */
const someReceipt = async (em: EntityManager, { launch, product }: LaunchContext, contact: Contact | undefined): Promise<ReceiptFacts> => {
  const newest = { orderBy: { placedAt: -1 } } as const;
  const theirs = contact && (await em.findOne(Order, { launchId: launch.id, contactId: contact.id }, newest));
  const order = theirs ?? (await em.findOne(Order, { launchId: launch.id, test: false }, newest));
  if (order) return receiptOf(em, order);
  const [price, none] = [formatMoney(product.priceMinor, product.currency), formatMoney(0, product.currency)];
  return { number: "1000", lines: [{ name: product.name, gross: price, tax: none }], total: price, tax: none, taxName: taxName(undefined) };
};

/** When a step of a sequence goes to somebody, and why it does not. */
const stepFor = async (
  em: EntityManager,
  context: LaunchContext,
  key: string,
  contact: Contact | undefined,
  bought: boolean,
  now: Date,
): Promise<{ at?: Date; stop?: string }> => {
  const { launch, plan } = context;
  const sequence = plan.settings.sequences.find(({ steps }) => steps.some(({ id }) => id === key))!;
  const step = sequence.steps.find(({ id }) => id === key)!;
  if (!contact) return {};
  const moment = (await momentsOf(em, launch.id, contact.id))[sequence.id];
  const at = moment && stepDueAt(step, moment, zoneOfReader(contact, context));
  const because = contact.unsubscribedAt
    ? "unsubscribed"
    : sequence.untilBought && bought
      ? "paid"
      : step.when && !(await meets(em, step.when, contact.personId, now))
        ? "not_meant"
        : undefined;
  return { ...(at ? { at } : {}), ...(because ? { stop: because } : {}) };
};

/** What an email to one person says of somebody to whom it might go now. */
const personalFacts = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  kind: Exclude<EmailKindName, HungKind>,
  contact: Contact | undefined,
  viewer: Viewer,
): Promise<KindFacts> => {
  const home = `${app.config.origin}/l/${context.launch.slug}`;
  switch (kind) {
    case "confirm":
      return { next: `${home}/confirm?c=${token}` };
    case "welcome":
      return { viewer, next: home, gift: { name: "what the form promised", href: home } };
    case "recovery":
      return { viewer, next: `${home}/checkout` };
    case "receipt":
    case "library": {
      const receipt = await someReceipt(em, context, contact);
      return { receipt, fields: { "order number": receipt.number }, library: `${app.config.origin}/library`, next: home };
    }
  }
};

/**
 * What an email of a launch says of a person, or of anybody whose name is not known, at the instant at which it goes to them. Where it does not go to
 * them it says why, and what it says of others.
 */
export const previewFacts = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  key: string,
  readerId?: string,
  /** Whether it is only looked at: then its countdown is drawn as of its own instant, where one that is sent shows that of its opening. */
  shownOnly = true,
): Promise<PreviewFacts> => {
  const kind = required(kindOfKey(context, key), "email");
  // When it goes, and to whom, is the same for both variants.
  const first = withoutVariant(key);
  const { plan, launch } = context;
  const contact = readerId === undefined ? undefined : required(await contactById(em, readerId), "person");
  const now = app.clock.now();
  const known = contact ? await viewerOf(em, context, { contactId: contact.id }) : usualViewer(plan, now);
  const limits = await sendingLimitsOf(em);
  const reads = { zone: contact ? zoneOfReader(contact, context) : plan.zone, quiet: limits.quiet };
  const runOf = (who: Viewer) => emailRun(plan, who, now, reads).emails.find(({ email }) => email.id === first)?.at;
  const bought = contact ? (await buyersAmong(em, [contact.id]))(launch.id, contact.id) : false;
  const left = contact ? (await optedOutAmong(em, [contact.id]))(launch.id, contact.id) : false;
  const inStep = kind === "step" ? await stepFor(em, context, first, contact, bought, now) : undefined;
  const timing = kind === "once" ? timingOf(context.oneOffs.get(first)!) : undefined;
  const theirs = inStep ? inStep.at : kind === "bell" ? runOf(known) : timing ? oneOffDueAt(timing, reads.zone) : now;
  // Whoever has no clock yet is shown what they would get if it started now.
  const who = theirs ? known : usualViewer(plan, now);
  const at = theirs ?? runOf(who) ?? now;
  const reader = {
    id: contact?.id ?? "",
    firstName: contact?.firstName ?? "",
    zone: contact?.zone ?? null,
    guessedZone: contact?.guessedZone ?? null,
    personId: contact?.personId ?? "",
    consentAt: contact?.consentAt ?? null,
  };
  const opens = plan.clock.kind === "personal" ? emailRun(plan, who, now).window?.opens.toISOString() : undefined;
  const compose = (to: { bought: boolean; unsubscribedAt: Date | null }) =>
    bell.compose({
      app,
      em,
      now: at,
      context,
      email: { dueAt: at, checkoutId: null },
      data: opens === undefined ? { email: first } : { email: first, opens },
      contact: { ...reader, unsubscribedAt: to.unsubscribedAt },
      quiet: limits.quiet,
      bought: to.bought,
      reader: () => Promise.resolve(who),
      soldOut: () => Promise.resolve(false),
      token,
    });
  const home: KindFacts = { viewer: who, next: `${app.config.origin}/l/${launch.slug}` };
  const composed: Composed =
    kind === "bell"
      ? await compose({ bought, unsubscribedAt: contact?.unsubscribedAt ?? null })
      : { facts: isHung(kind) ? home : await personalFacts(app, em, context, kind, contact, who) };
  const shown = "facts" in composed ? composed : await compose({ bought: false, unsubscribedAt: null });
  const own: KindFacts = "facts" in shown ? shown.facts : home;
  const facts = await readerFacts(
    {
      app,
      em,
      context,
      contact: reader,
      firstName: contact?.provenAt ? contact.firstName : "",
      now: at,
      token,
      asks: { partner: true, price: true },
    },
    own,
  );
  if (shownOnly && facts.countdown)
    facts.countdown = { ...facts.countdown, src: `data:image/png;base64,${(await drawCountdown(context, who, at)).toString("base64")}` };
  const unsent = publishedContent(context, kind, key) ? null : "not_published";
  const advertised = isHung(kind) ? (contact && !contact.consentAt ? "no_consent" : left ? "launch_left" : null) : null;
  const stop = advertised ?? inStep?.stop ?? ("stop" in composed ? composed.stop : null) ?? unsent;
  return { kind, facts, at: theirs ?? null, zone: contact ? (contact.zone ?? contact.guessedZone ?? null) : null, stop, personId: contact?.personId };
};

export type EmailPreview = WrittenEmail & Omit<PreviewFacts, "facts" | "kind" | "personId">;

/** An email as somebody gets it: as it is published, or its draft where nothing is, or where that is asked for. */
export const previewEmailTo = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  key: string,
  { readerId, draft = false, shownOnly = true }: { readerId?: string; draft?: boolean; shownOnly?: boolean } = {},
): Promise<EmailPreview> => {
  const { kind, facts, personId, ...when } = await previewFacts(app, em, context, key, readerId, shownOnly);
  // Of two variants somebody is shown the one that they get, unless one of them is asked for.
  const theirs = personId && !draft && key === withoutVariant(key) ? variantFor(context, key, personId, true).key : key;
  const published = publishedContent(context, kind, theirs);
  const content = (draft ? undefined : published) ?? context.emails.get(key)?.draft ?? usualContent(kind) ?? newEmail;
  const compiled = await compileContent(app, em, context, kind, content);
  const unsubscribe = `${app.config.origin}/unsubscribe?u=${token}`;
  return { ...fillEmail(compiled, { facts, source: context.source, unsubscribe }), ...when };
};

/** Sends an email of a launch to the address of whoever asks for it, as it would go out. It is not counted among those that went. */
export const sendTestEmail = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  key: string,
  { readerId, draft }: { readerId?: string; draft?: boolean } = {},
): Promise<{ to: string }> => {
  mustBeAllowed(user, "launch.edit");
  const { subject, text, html } = await previewEmailTo(app, em, context, key, { readerId, draft, shownOnly: false });
  try {
    const messageId = `<${randomUUID()}@${new URL(app.config.origin).hostname}>`;
    const from = senderOf(app, context.plan.settings.sender);
    const dkim = await signerFor(app, em, from.address);
    await app.mailer.send({ to: user.email, from, dkim, subject: `Test: ${subject}`, text, html, messageId }, "personal");
  } catch (error) {
    if (error instanceof MailFailed) throw new Refusal({ code: "test_not_sent" });
    throw error;
  }
  return { to: user.email };
};
