import { randomUUID } from "node:crypto";
import { bellEmailWords, emailRun, renderEmail, usualViewer } from "../../core/emails";
import { MailFailed } from "../../outside/mailer";
import { buyersAmong, optedOutAmong } from "../../store/emails/amongContacts";
import { contactById } from "../../store/people/persons";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { drawCountdown, viewerOf, type LaunchContext } from "../launch";
import { type App, mustBeAllowed, Refusal, required, senderOf } from "../platform";
import { bell } from "./kinds/bell";

/** An email as somebody gets it. */
export interface EmailPreview {
  subject: string;
  text: string;
  html: string;
  at: Date | null;
  zone: string | null;
  stop: string | null;
}

// A preview leads to the launch as everybody sees it, and unsubscribes nobody.
const token = "preview";

/**
 * An email of a launch as a person gets it, or as anybody does whose name is not known, at the instant at which it goes to them. Where it does not go to
 * them it says why, and shows what others get.
 */
export const previewEmailTo = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  id: string,
  readerId?: string,
  /** Whether it is only looked at: then its countdown is drawn as of its own instant, where one that is sent shows that of its opening. */
  shownOnly = true,
): Promise<EmailPreview> => {
  const { plan, launch } = context;
  const written = required(
    plan.settings.emails.find((one) => one.id === id),
    "email",
  );
  const contact = readerId === undefined ? undefined : required(await contactById(em, readerId), "person");
  const now = app.clock.now();
  const known = contact ? await viewerOf(em, context, { contactId: contact.id }) : usualViewer(plan, now);
  const runOf = (who: typeof known) => emailRun(plan, who, now).emails.find(({ email }) => email.id === id)?.at;
  const theirs = runOf(known);
  // Whoever has no clock yet is shown what they would get if it started now.
  const who = theirs ? known : usualViewer(plan, now);
  const at = theirs ?? runOf(who) ?? now;
  const opens = plan.clock.kind === "personal" ? emailRun(plan, who, now).window?.opens.toISOString() : undefined;
  const compose = (to: { bought: boolean; unsubscribedAt: Date | null }) =>
    bell.compose({
      app,
      em,
      now: at,
      context,
      email: { dueAt: at, checkoutId: null },
      data: opens === undefined ? { email: id } : { email: id, opens },
      contact: { id: contact?.id ?? "", firstName: contact?.firstName ?? "", unsubscribedAt: to.unsubscribedAt },
      firstName: contact?.provenAt ? contact.firstName : "",
      bought: to.bought,
      reader: () => Promise.resolve(who),
      soldOut: () => Promise.resolve(false),
      token,
    });
  const bought = contact ? (await buyersAmong(em, [contact.id]))(launch.id, contact.id) : false;
  const left = contact ? (await optedOutAmong(em, [contact.id]))(launch.id, contact.id) : false;
  const composed = await compose({ bought, unsubscribedAt: contact?.unsubscribedAt ?? null });
  const shown = "words" in composed ? composed : await compose({ bought: false, unsubscribedAt: null });
  const link = `${app.config.origin}/l/${launch.slug}`;
  const words = "words" in shown ? shown.words : bellEmailWords({ firstName: "", subject: written.subject, text: written.text, link });
  if (shownOnly && words.countdown)
    words.countdown = { ...words.countdown, src: `data:image/png;base64,${(await drawCountdown(context, who, at)).toString("base64")}` };
  const { text, html } = renderEmail(words, app.vendor, `${app.config.origin}/unsubscribe?u=${token}`);
  const stop = contact && !contact.consentAt ? "no_consent" : left ? "launch_left" : "stop" in composed ? composed.stop : null;
  return { subject: words.subject, text, html, at: theirs ?? null, zone: contact ? (contact.zone ?? contact.guessedZone ?? null) : null, stop };
};

/** Sends an email of a launch to the address of whoever asks for it, as it would go out. It is not counted among those that went. */
export const sendTestEmail = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  id: string,
  readerId?: string,
): Promise<{ to: string }> => {
  mustBeAllowed(user, "launch.edit");
  const { subject, text, html } = await previewEmailTo(app, em, context, id, readerId, false);
  try {
    const messageId = `<${randomUUID()}@${new URL(app.config.origin).hostname}>`;
    await app.mailer.send({ to: user.email, from: senderOf(app), subject: `Test: ${subject}`, text, html, messageId }, "personal");
  } catch (error) {
    if (error instanceof MailFailed) throw new Refusal({ code: "test_not_sent" });
    throw error;
  }
  return { to: user.email };
};
