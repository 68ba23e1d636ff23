import { windowFor } from "../../../core/launch";
import { recoveryStop } from "../../../core/leaks";
import { Checkout } from "../../../store/tables";
import { soldBy } from "../../offers";
import type { EntityManager } from "../../../store/orm";
import type { LaunchContext } from "../../launch";
import { type App, signLink } from "../../platform";
import type { EmailKind } from "../emailKind";

/** Where the checkout goes on, as its buyer left it. */
const checkoutPath = async (app: App, em: EntityManager, { launch }: Pick<LaunchContext, "launch">, id: string, now: Date): Promise<string> => {
  const { productId } = await em.findOneOrFail(Checkout, { id });
  const restore = signLink(app.config.INKBELL_SECRET, "restore_checkout", id, now, 30);
  return `/l/${launch.slug}/checkout?r=${restore}${productId ? `&of=${productId}` : ""}`;
};

export const recovery: EmailKind<"recovery"> = {
  advertising: true,
  key: () => "recovery",
  leadsTo: ({ app, em, context, email, now }) => checkoutPath(app, em, context, email.checkoutId!, now),
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
    return {
      closes: window && now < window.closes ? window.closes : undefined,
      facts: {
        viewer,
        fields: { product: (await soldBy(em, context, checkout)).name },
        next: `${app.config.origin}${await checkoutPath(app, em, context, checkout.id, now)}&k=${token}`,
      },
    };
  },
};
