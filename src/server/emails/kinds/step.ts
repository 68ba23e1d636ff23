import { stepDueAt, stepOvertaken } from "../../../core/emails";
import { phaseFor, windowFor } from "../../../core/launch";
import { meets } from "../../../store/people/find/peopleWho";
import { zoneOfReader } from "../zoneOfReader";
import type { EmailKind } from "../emailKind";

export const step: EmailKind<"step"> = {
  advertising: true,
  key: (data) => data.step,
  async compose(draft) {
    const { app, em, now, context, data, contact, bought, token } = draft;
    if (contact.unsubscribedAt) return { stop: "unsubscribed" };
    if (!contact.consentAt) return { stop: "no_consent" };
    const { launch, plan } = context;
    const sequence = plan.settings.sequences.find(({ id }) => id === data.sequence);
    const hung = sequence?.steps.find(({ id }) => id === data.step);
    if (!sequence || !hung) return { stop: "email_withdrawn" };
    if (sequence.untilBought && bought) return { stop: "paid" };
    const [moment, zone] = [new Date(data.moment), zoneOfReader(contact, context)];
    const due = stepDueAt(hung, moment, zone);
    if (due > now) return { waitUntil: due };
    const stop = stepOvertaken(hung, sequence, moment, zone, now);
    if (stop) return { stop };
    const viewer = await draft.reader();
    if (viewer.stop?.handedTo) return { stop: "clock_stopped" };
    const phase = phaseFor(plan, viewer, now);
    if (sequence.untilClosed && phase === "after") return { stop: "doors_closed" };
    if (hung.when && !(await meets(em, hung.when, contact.personId, now))) return { stop: "not_meant" };
    // Whatever it says of open doors: nobody is sent to a seat that is not there.
    if (sequence.untilBought && phase === "during" && (await draft.soldOut())) return { stop: "sold_out" };
    const closes = sequence.untilClosed && phase === "during" ? windowFor(plan, viewer, now)?.closes : undefined;
    return { facts: { next: `${app.config.origin}/l/${launch.slug}?k=${token}`, viewer }, closes };
  },
};
