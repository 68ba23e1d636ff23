import { bellEmailDueAt, lastCall, overtaken } from "../../../core/emails";
import { windowFor } from "../../../core/launch";
import type { EmailKind } from "../emailKind";
import { zoneOfReader } from "../zoneOfReader";

export const bell: EmailKind<"bell"> = {
  advertising: true,
  key: ({ email }) => email,
  async compose(draft) {
    const { app, now, context, email, data, contact, bought, token } = draft;
    if (contact.unsubscribedAt) return { stop: "unsubscribed" };
    const { launch, plan } = context;
    const hung = plan.settings.emails.find(({ id }) => id === data.email);
    if (!hung) return { stop: "email_withdrawn" };
    if (hung.to === "not_bought" && bought) return { stop: "paid" };
    const viewer = await draft.reader();
    const opens = data.opens ? new Date(data.opens) : undefined;
    if (plan.clock.kind === "personal" && viewer.stop) return { stop: "clock_stopped" };
    // The clock may have been set anew since the email was queued: it goes by the deadline that holds now.
    const window = windowFor(plan, viewer, opens ?? now) ?? windowFor(plan, viewer, email.dueAt);
    if (plan.clock.kind === "personal" && (!window || window.opens.getTime() !== opens?.getTime())) return { stop: "clock_merged" };
    const facts = { next: `${app.config.origin}/l/${launch.slug}?k=${token}`, viewer };
    if (window) {
      const run = { emails: plan.settings.emails, window, zone: plan.zone };
      const reads = { zone: zoneOfReader(contact, context), quiet: draft.quiet };
      const { at } = bellEmailDueAt(hung, run, reads);
      const last = lastCall(run)?.id === hung.id;
      if (at > now) return { waitUntil: at, lastCall: last };
      const stop = overtaken(hung, run, now, reads);
      if (stop) return { stop };
      // Whatever it says of open doors: nobody is sent to a seat that is not there.
      if (now >= window.opens && now < window.closes && (await draft.soldOut())) return { stop: "sold_out" };
      return { facts, lastCall: last, closes: at < window.closes ? window.closes : undefined };
    }
    return { facts };
  },
};
