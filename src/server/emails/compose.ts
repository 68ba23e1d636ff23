import { capSpanMs, fewerSpanMs, paced, type EmailKindName, type EmailVariant, type SendingLimits } from "../../core/emails";
import { availability, windowFor } from "../../core/launch";
import type { Target } from "../../core/pages";
import { emailWords } from "../../core/words";
import type { DkimSigner, OutgoingMail } from "../../outside/mailer";
import { Contact, type EmailMessage } from "../../store/tables";
import { buyersAmong, optedOutAmong } from "../../store/emails/amongContacts";
import { mailOf } from "../../store/emails/dating";
import type { EntityManager } from "../../store/orm";
import { sendingLimitsOf } from "../../store/settings/sending";
import { isListed, type LaunchContext, launchesOf, viewerOf } from "../launch";
import { countersFor } from "../offers";
import { type App, senderOf, signerFor, signLink } from "../platform";
import type { CompiledEmail } from "../../public/emails/compileEmail";
import { fillEmail } from "../../public/emails/fillEmail";
import { compiledEmails, publishedContent, variantFor } from "./contents";
import type { Draft, EmailKind } from "./emailKind";
import { emailKinds } from "./kinds";
import { emailLink, openedPicture } from "./followLink";
import { personLink } from "./personLink";
import { readerFacts } from "./readerFacts";
import { returnAddressOf } from "./returns";
import { zoneOfReader } from "./zoneOfReader";

/** The Message-ID of an email: the same whenever it is sent. */
const messageIdOf = ({ config }: Pick<App, "config">, id: string): string => `<${id}@${new URL(config.origin).hostname}>`;

/** What is found out once for all emails that are made together. */
export interface Batch {
  app: App;
  em: EntityManager;
  contacts: Map<string, Contact>;
  /** Whether a contact has bought in a launch. */
  bought(launchId: string, contactId: string): boolean;
  /** Whether a contact gets no emails of a launch. */
  optedOut(launchId: string, contactId: string): boolean;
  limits: SendingLimits;
  /** By what mail from an address is signed. */
  signer(from: string): Promise<DkimSigner | undefined>;
  /** What went to a contact lately, and which last calls are to come. */
  mailOf(contactId: string): { sent: readonly Date[]; lastCalls: readonly Date[] };
}

const noMail = { sent: [], lastCalls: [] };

/** Reads what a batch of emails needs, in as many statements as for one. */
export const batchOf = async (app: App, emails: readonly Pick<EmailMessage, "contactId" | "launchId" | "bulk">[]): Promise<Batch> => {
  const em = app.fork();
  const contacts = await em.find(Contact, { id: { $in: emails.map(({ contactId }) => contactId) } });
  const bought = await buyersAmong(
    em,
    emails.filter(({ bulk }) => bulk).map(({ contactId }) => contactId),
  );
  const optedOut = await optedOutAmong(
    em,
    emails.map(({ contactId }) => contactId),
  );
  const limits = await sendingLimitsOf(em);
  const few = contacts.some(({ fewerSince }) => fewerSince);
  const many = limits.perDay === null && !few ? [] : emails.filter(({ bulk }) => bulk).map(({ contactId }) => contactId);
  const mail = many.length > 0 ? await mailOf(em, many, app.clock.now(), few ? fewerSpanMs : capSpanMs) : undefined;
  const signers = new Map<string, Promise<DkimSigner | undefined>>();
  return {
    app,
    em,
    contacts: new Map(contacts.map((contact) => [contact.id, contact])),
    bought,
    optedOut,
    limits,
    signer: (from) => {
      let signer = signers.get(from);
      if (!signer) signers.set(from, (signer = signerFor(app, app.fork(), from)));
      return signer;
    },
    mailOf: (contactId) => mail?.get(contactId) ?? noMail,
  };
};

/** Whether no seat is left for a contact. */
const isSoldOut = async (app: App, em: EntityManager, context: LaunchContext, { personId }: Contact): Promise<boolean> => {
  if (context.plan.settings.seats === null) return false;
  const open = availability(context.plan, await countersFor(app).of(context));
  return open === "sold_out" || (open === "list_only" && !(await isListed(em, context.launch.id, personId)));
};

/** What the holes of an email ask for that has to be looked up. */
export const asksOf = ({ html, text, subject }: CompiledEmail): { deadline: boolean; partner: boolean; price: boolean } => {
  const holes = [...html.holes, ...text.holes, ...subject.holes];
  return {
    deadline: holes.some((hole) => hole.is === "countdown" || (hole.is === "field" && hole.field === "deadline")),
    partner: holes.some((hole) => hole.is === "partner" || (hole.is === "field" && hole.field === "partner")),
    price: holes.some((hole) => hole.is === "field" && hole.field === "price"),
  };
};

/** An email as it is sent now; or why it is not, or when it will be. */
export type Ready =
  /** The closing of the doors that it states, where it states one. */
  | { mail: OutgoingMail; variant?: EmailVariant | undefined; statedClosing?: Date | undefined }
  | { stop: string }
  | { waitUntil: Date; lastCall?: boolean };

/** Makes an email of a batch as it stands at this moment. */
export const readyEmail = async (batch: Batch, email: EmailMessage): Promise<Ready> => {
  const { app } = batch;
  // What it was made from is gone.
  if (batch.contacts.get(email.contactId)?.erasedAt) return { stop: "erased" };
  if (email.bulk && batch.contacts.get(email.contactId)?.suppressedAt) return { stop: "suppressed" };
  if (emailKinds[email.kind].advertising && batch.optedOut(email.launchId, email.contactId)) return { stop: "launch_left" };
  const { em } = batch;
  const now = app.clock.now();
  const contact = batch.contacts.get(email.contactId)!;
  const context = (await launchesOf(app).byId(email.launchId))!;
  // Which data belongs to which kind is known where the email is queued, and by the row's kind here.
  const kind = emailKinds[email.kind] as EmailKind<EmailKindName>;
  // Signed once, and only for those that have a link.
  let signed: string | undefined;
  const draft: Draft<EmailKindName> = {
    app,
    em,
    now,
    context,
    email,
    data: email.data,
    contact,
    quiet: batch.limits.quiet,
    bought: batch.bought(email.launchId, contact.id),
    reader: () => viewerOf(em, context, { contactId: contact.id }),
    soldOut: () => isSoldOut(app, em, context, contact),
    get token() {
      return (signed ??= personLink(app, contact.id));
    },
  };
  const composed = await kind.compose(draft);
  if (!("facts" in composed)) return composed;
  if (email.bulk) {
    const mailbox = { zone: zoneOfReader(contact, context), fewer: Boolean(contact.fewerSince), ...batch.mailOf(contact.id) };
    const may = paced(batch.limits, mailbox, { at: now, lastCall: composed.lastCall ?? false, closes: composed.closes });
    if (may !== "go") return may;
  }
  const first = kind.key(email.data);
  const { key, variant } = variantFor(context, first, contact.personId, publishedContent(context, email.kind, first) !== undefined);
  const compiled = await compiledEmails(app).of(context, email.kind, key);
  if (!compiled) return { stop: "not_published" };
  const { origin, INKBELL_SECRET } = app.config;
  const asks = asksOf(compiled);
  const { viewer, full } = composed.facts;
  const facts = await readerFacts(
    { app, em, context, contact, firstName: contact.provenAt ? contact.firstName : "", now, token: draft.token, asks },
    composed.facts,
  );
  const unsubscribe = kind.advertising
    ? `${origin}/unsubscribe?u=${signLink(INKBELL_SECRET, "unsubscribe", contact.id, now, 365)}&l=${context.launch.slug}&e=${email.id}`
    : undefined;
  // Only of what goes out to inform or to sell: the links of what somebody asked for or paid for are their own.
  const tracked = kind.advertising ? { link: (to: Target) => emailLink(app, email.id, to), opened: openedPicture(app, email.id) } : {};
  const { subject, text, html } = fillEmail(compiled, { facts, source: context.source, unsubscribe, ...tracked });
  const messageId = messageIdOf(app, email.id);
  const from = senderOf(app, context.plan.settings.sender);
  return {
    variant,
    statedClosing: asks.deadline && viewer && !full ? windowFor(context.plan, viewer, now)?.closes : undefined,
    mail: {
      to: contact.email,
      from,
      subject: facts.receipt?.test ? emailWords().receipt.testSubject(subject) : subject,
      text,
      html,
      unsubscribe,
      messageId,
      references: composed.references && messageIdOf(app, composed.references),
      returnPath: returnAddressOf(app, email.id),
      dkim: await batch.signer(from.address),
    },
  };
};
