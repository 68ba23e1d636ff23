import { bellEmailWords } from "../../../core/emails";
import { emailDueAt, overtaken, windowFor } from "../../../core/launch";
import type { EmailKind } from "../emailKind";
import { readerCountdown } from "../readerCountdown";

export const bell: EmailKind<"bell"> = {
  advertising: true,
  async compose(draft) {
    const { app, now, context, email, data, contact, firstName, bought, token } = draft;
    if (contact.unsubscribedAt) return { stop: "unsubscribed" };
    const { launch, plan } = context;
    const written = plan.settings.emails.find(({ id }) => id === data.email);
    if (!written) return { stop: "email_withdrawn" };
    if (written.to === "not_bought" && bought) return { stop: "paid" };
    const reader = await draft.reader();
    const opens = data.opens ? new Date(data.opens) : undefined;
    if (plan.clock.kind === "personal" && reader.stop) return { stop: "clock_stopped" };
    // The clock may have been set anew since the email was queued: it goes by the deadline that holds now.
    const window = windowFor(plan, reader, opens ?? now) ?? windowFor(plan, reader, email.dueAt);
    if (plan.clock.kind === "personal" && (!window || window.opens.getTime() !== opens?.getTime())) return { stop: "clock_merged" };
    if (window) {
      const due = emailDueAt(written, window);
      if (due > now) return { waitUntil: due };
      const stop = overtaken(written, plan.settings.emails, window, now);
      if (stop) return { stop };
      // Whatever it says of open doors: nobody is sent to a seat that is not there.
      if (now >= window.opens && now < window.closes && (await draft.soldOut())) return { stop: "sold_out" };
    }
    const link = `${app.config.origin}/l/${launch.slug}?k=${token}`;
    const countdown = readerCountdown(draft, reader);
    return { words: bellEmailWords({ firstName, subject: written.subject, text: written.text, link, countdown }) };
  },
};
