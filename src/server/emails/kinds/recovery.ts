import { windowFor } from "../../../core/launch";
import { recoveryStop } from "../../../core/leaks";
import { Checkout } from "../../../store/tables";
import { soldBy } from "../../offers";
import { signLink } from "../../platform";
import type { EmailKind } from "../emailKind";

export const recovery: EmailKind<"recovery"> = {
  advertising: true,
  key: () => "recovery",
  async compose({ app, now, em, context, email, contact, bought, reader, soldOut, token }) {
    const { launch, plan } = context;
    const checkout = await em.findOneOrFail(Checkout, { id: email.checkoutId! });
    const delay = launch.recoveryDelayMinutes;
    const viewer = await reader();
    const window = windowFor(plan, viewer, now);
    const stop = recoveryStop(
      { lastActivityAt: checkout.lastActivityAt, paid: checkout.paidAt !== null || bought, unsubscribed: contact.unsubscribedAt !== null },
      delay,
      window,
      now,
    );
    if (stop === "active_again") return { waitUntil: new Date(checkout.lastActivityAt.getTime() + delay * 60_000) };
    if (stop) return { stop };
    if (!checkout.productId && (await soldOut())) return { stop: "sold_out" };
    const restore = signLink(app.config.INKBELL_SECRET, "restore_checkout", checkout.id, now, 30);
    const of = checkout.productId ? `&of=${checkout.productId}` : "";
    return {
      closes: window && now < window.closes ? window.closes : undefined,
      facts: {
        viewer,
        fields: { product: (await soldBy(em, context, checkout)).name },
        next: `${app.config.origin}/l/${launch.slug}/checkout?r=${restore}&k=${token}${of}`,
      },
    };
  },
};
