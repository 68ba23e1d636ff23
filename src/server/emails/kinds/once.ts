import { oneOffDueAt } from "../../../core/emails";
import type { EmailKind } from "../emailKind";
import { farAway, timingOf } from "../oneOff/timing";
import { zoneOfReader } from "../zoneOfReader";

export const once: EmailKind<"once"> = {
  advertising: true,
  key: ({ email }) => email,
  async compose(draft) {
    const { app, now, context, data, contact, token } = draft;
    if (contact.unsubscribedAt) return { stop: "unsubscribed" };
    if (!contact.consentAt) return { stop: "no_consent" };
    const one = context.oneOffs.get(data.email);
    const timing = one && timingOf(one);
    if (!one || !timing || one.state === "draft" || one.state === "cancelled") return { stop: "email_withdrawn" };
    if (one.state === "paused") return { waitUntil: farAway(now) };
    const due = oneOffDueAt(timing, zoneOfReader(contact, context));
    if (due > now) return { waitUntil: due };
    return { facts: { next: `${app.config.origin}/l/${context.launch.slug}?k=${token}`, viewer: await draft.reader() } };
  },
};
