import { MailFailed } from "../../outside/mailer";
import type { EmailMessage } from "../../store/tables";
import { type App, describeError, retryDelayMs } from "../platform";
import { batchOf, readyEmail, type Batch, type Ready } from "./compose";
import { takeReturned } from "./returns";
import { confirmEmails, type Outcome } from "../../store/emails/claim";

/** How many are handed over at once: as many as a crash may leave unknown. */
export const atOnce = 16;

const again = (app: App, { id, tries }: EmailMessage, because: string): Outcome => ({
  id,
  state: "due",
  because,
  dueAt: new Date(app.clock.now().getTime() + retryDelayMs(tries)),
});

const failed = (app: App, email: EmailMessage, error: unknown): Outcome => {
  if (!(error instanceof MailFailed)) {
    app.log.error({ email: email.id, ...describeError(error) }, "an email could not be made, and will be tried again");
    return again(app, email, "it could not be made");
  }
  if (error.outcome === "never") return { id: email.id, state: "stopped", because: error.noSuchAddress ? "no_such_address" : "refused_by_server" };
  // Written again to one person, a receiving server knows it by its Message-ID; to many, nobody is written to twice.
  if (error.outcome === "unknown" && email.bulk) return { id: email.id, state: "unknown", because: "the mail server's answer was lost" };
  return again(app, email, "the mail server did not take it");
};

const made = async (batch: Batch, email: EmailMessage): Promise<Ready | { failed: unknown }> => {
  try {
    return await readyEmail(batch, email);
  } catch (error) {
    return { failed: error };
  }
};

/**
 * Sends emails that a worker has claimed. No transaction and no connection is held meanwhile; what became of each is
 * written down a few at a time.
 */
export const deliverEmails = async (app: App, worker: string, emails: readonly EmailMessage[]): Promise<void> => {
  const batch = await batchOf(app, emails);
  let outcomes: Outcome[] = [];
  for (let from = 0; from < emails.length; from += atOnce) {
    const some = emails.slice(from, from + atOnce);
    const ready = await Promise.all(some.map(async (email) => ({ email, is: await made(batch, email) })));
    const now = app.clock.now();
    const handed = ready.flatMap(({ email, is }) => ("mail" in is ? [email.id] : []));
    const inHand = await confirmEmails(app.fork(), worker, outcomes, handed, now);
    const ours = ready.filter(({ email, is }) => !("mail" in is) || inHand.has(email.id));
    outcomes = await Promise.all(
      ours.map(async ({ email, is }): Promise<Outcome> => {
        if ("stop" in is) return { id: email.id, state: "stopped", because: is.stop };
        if ("waitUntil" in is) return { id: email.id, state: "due", dueAt: is.waitUntil, lastCall: is.lastCall };
        if ("failed" in is) return failed(app, email, is.failed);
        try {
          await app.mailer.send(is.mail, email.bulk ? "bulk" : "personal");
          return { id: email.id, state: "sent", subject: is.mail.subject, variant: is.variant, statedClosing: is.statedClosing };
        } catch (error) {
          if (error instanceof MailFailed && error.noSuchAddress)
            await takeReturned(app, email.id, { is: "bounce", hard: true, says: error.message.slice(0, 300) });
          return failed(app, email, error);
        }
      }),
    );
  }
  await confirmEmails(app.fork(), worker, outcomes, [], app.clock.now());
};
