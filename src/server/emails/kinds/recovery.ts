import { recoveryWords } from "../../../core/emails";
import { windowFor } from "../../../core/launch";
import { recoveryStop } from "../../../core/leaks";
import { Checkout } from "../../../store/tables";
import { soldBy } from "../../offers";
import { signLink } from "../../platform";
import type { EmailKind } from "../emailKind";

export const recovery: EmailKind<"recovery"> = {
  advertising: true,
  async compose({ app, now, em, context, email, contact, firstName, bought, reader, soldOut, token }) {
    const { launch, plan } = context;
    const checkout = await em.findOneOrFail(Checkout, { id: email.checkoutId! });
    const delay = launch.recoveryDelayMinutes;
    const window = windowFor(plan, await reader(), now);
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
    const words = recoveryWords({
      firstName,
      product: (await soldBy(em, context, checkout)).name,
      closes: window!.closes,
      zone: launch.zone,
      link: `${app.config.origin}/l/${launch.slug}/checkout?r=${restore}&k=${token}${checkout.productId ? `&of=${checkout.productId}` : ""}`,
    });
    return { words };
  },
};
