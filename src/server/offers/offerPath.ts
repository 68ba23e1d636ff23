import { randomUUID } from "node:crypto";
import { itemOf, pathEnd, stepAfter, type Decision } from "../../core/offers";
import { Charge, Order } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { queue } from "../app/outbox";
import { found } from "../app/refusal";
import { queueEmail } from "../emails/queueEmail";
import type { LaunchBundle } from "../launch/bundle";
import { chargeNow } from "./charging";
import { quote } from "./quote";

/** The step of the path at which an order stands: a step's id, or the end. */
export const standingOf = async (em: EntityManager, bundle: LaunchBundle, orderId: string): Promise<string> => {
  const rows = await em.execute<{ step_id: string; decision: Decision }[]>("select step_id, decision from offer_decision where order_id = ?", [
    orderId,
  ]);
  return stepAfter(bundle.path, new Map(rows.map((row) => [row.step_id, row.decision])));
};

/** The address below the launch where an order goes on: its offer, or the thank-you page. */
export const nextAddress = async (em: EntityManager, bundle: LaunchBundle, orderId: string): Promise<string> => {
  const at = await standingOf(em, bundle, orderId);
  const step = bundle.steps.find(({ id }) => id === at);
  return at === pathEnd || !step ? bundle.pages.find(({ kind }) => kind === "thanks")!.slug : step.page.slug;
};

/**
 * Takes a buyer's answer to an offer. *No* is written down; *yes* charges the stored card. The first answer holds:
 * pressed twice, reloaded or replayed, there is one charge. Answers the charge that was made or found, if any.
 */
export const decideOffer = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  orderId: string,
  stepId: string,
  decision: Decision,
): Promise<Charge | undefined> => {
  const now = app.clock.now();
  const chargeId = await em.transactional(async (tx) => {
    await tx.execute("select 1 from sale_order where id = ? for update", [orderId]);
    const order = found(await tx.findOne(Order, { id: orderId, launchId: bundle.launch.id }), "order");
    if ((await standingOf(tx, bundle, orderId)) !== stepId) return undefined;
    const step = found(
      bundle.steps.find(({ id }) => id === stepId),
      "offer",
    );
    const live = await tx.findOne(Charge, { checkoutId: order.checkoutId!, stepId, state: { $ne: "declined" } });
    if (live) return live.id;
    if (decision === "no") {
      await tx.execute("insert into offer_decision (order_id, step_id, decision, at) values (?, ?, 'no', ?)", [orderId, stepId, now]);
      return undefined;
    }
    const amount = await quote(tx, step.product, order.country, now);
    const attempt = (await tx.count(Charge, { checkoutId: order.checkoutId!, stepId })) + 1;
    const id = randomUUID();
    tx.persist(
      tx.create(Charge, {
        id,
        idempotencyKey: `offer:${orderId}:${stepId}:${attempt}`,
        checkoutId: order.checkoutId!,
        stepId,
        state: "pending",
        amountMinor: amount.gross,
        currency: step.product.currency,
        items: [itemOf(step.product.id, "offer", amount)],
        card: order.cardRef!,
        returnUrl: `${app.config.origin}/l/${bundle.launch.slug}/charge?c=${id}`,
        createdAt: now,
      }),
    );
    await tx.flush();
    await queue(tx, "settle_charge", { id }, new Date(now.getTime() + 20_000), `settle:${id}`);
    return id;
  });
  return chargeId ? chargeNow(app, chargeId) : undefined;
};

/** The buyer has arrived at the thank-you page: the receipt need not wait any longer. */
export const finishPath = async (em: EntityManager, order: Order, now: Date): Promise<void> => {
  if (order.finishedPathAt) return;
  await em.transactional(async (tx) => {
    await tx.nativeUpdate(Order, { id: order.id, finishedPathAt: null }, { finishedPathAt: now });
    await queueEmail(tx, {
      key: `receipt:${order.id}`,
      kind: "receipt",
      launchId: order.launchId,
      contactId: order.contactId,
      dueAt: now,
      data: { orderId: order.id },
    });
  });
};
