import { publicWords } from "../../core/words";
import { LockMode } from "@mikro-orm/core";
import { randomUUID } from "node:crypto";
import {
  asksWaiver,
  emptyPath,
  endPage,
  itemOf,
  recurringWords,
  stepAfter,
  totalOf,
  waitsForFulfilment,
  without,
  type Agreed,
  type Decision,
  type OfferPath,
} from "../../core/offers";
import { Charge, Checkout, Order, PathVersion, Product, OfferDecision } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, required, signLink, wrongField } from "../platform";
import { queueEmail } from "../../store/emails/queueEmail";
import { fullSteps, hiddenSteps, type LaunchContext, type OfferStep } from "../launch";
import { writeSale } from "../../store/payments/writeSale";
import { eventRow } from "../../store/events/writeEvents";
import { beginCharge, chargeNow, returnUrlOf } from "../payments";
import { closedSteps, kindsAtOnce, mustHaveSeat, offerLines, type QuotedLine } from "../offers";

type Placed = Pick<Order, "id" | "personId" | "checkoutId" | "pathVersion" | "currency">;

/** The path that an order walks, the version it began with, as it was saved; with its steps. */
const pathOfOrder = async (em: EntityManager, context: LaunchContext, order: Placed): Promise<{ path: OfferPath; steps: OfferStep[] }> => {
  if (order.pathVersion === context.savedPath.version) return { path: context.savedPath.path, steps: context.steps };
  const version = await em.findOne(PathVersion, { launchId: context.launch.id, version: order.pathVersion });
  const path = version?.path ?? emptyPath;
  const products = await em.find(Product, { id: { $in: path.steps.map(({ productId }) => productId) } });
  return { path, steps: fullSteps(path, context.pages, products) };
};

/** Where an order stands on its path: the step to show, or none and the address of the page it ends on. */
export const placeOnPath = async (em: EntityManager, context: LaunchContext, order: Placed): Promise<{ step?: OfferStep; address: string }> => {
  const { path, steps } = await pathOfOrder(em, context, order);
  const answers = new Map((await em.find(OfferDecision, { orderId: order.id })).map(({ stepId, decision }) => [stepId, decision]));
  // What was answered stays on the way that was walked, though it is not shown, or not to be had, any more.
  const passed = [...hiddenSteps(path, steps, order.currency), ...(await closedSteps(em, order, steps))].filter((id) => !answers.has(id));
  const at = stepAfter(without(path, passed), answers);
  const step = steps.find(({ id }) => id === at);
  if (step) return { step, address: step.page.slug };
  const ends = context.pages.filter(({ kind, published }) => kind === "thanks" && published);
  return { address: (ends.find(({ id }) => id === endPage(at)) ?? ends[0] ?? context.pages.find(({ kind }) => kind === "thanks")!).slug };
};

/** The address below the launch where an order goes on: its offer, or its thank-you page. */
export const nextAddress = async (em: EntityManager, context: LaunchContext, order: Placed): Promise<string> =>
  (await placeOnPath(em, context, order)).address;

/** What a press on *yes* agrees to, in the words that stand below it. */
const agreedByPress = (
  lines: QuotedLine[],
  { country, vatNumber, currency }: Pick<Order, "country" | "vatNumber" | "currency">,
  now: Date,
): Agreed[] => {
  const at = now.toISOString();
  const waives = asksWaiver(kindsAtOnce(lines), country, Boolean(vatNumber));
  return [
    ...(waives ? [{ to: "start_at_once" as const, words: publicWords().checkout.waiverByPress, at }] : []),
    ...lines.flatMap(({ product, recurring }) =>
      recurring
        ? [{ to: "later_payments" as const, words: `${product.name}: ${recurringWords(recurring.due, recurring.amount.gross, currency)}`, at }]
        : [],
    ),
  ];
};

/** Where an order stands in its path, by a link that is signed for so many days. */
export const orderHref = async (app: App, em: EntityManager, context: LaunchContext, order: Order, days: number): Promise<string> => {
  const token = signLink(app.config.INKBELL_SECRET, "order", order.id, app.clock.now(), days);
  return `/l/${context.launch.slug}/${await nextAddress(em, context, order)}?o=${token}`;
};

/** Who presses a button of an order: their browser, who is signed in there, and another card than the stored one. */
export interface PressedBy {
  visitorId?: string;
  buyerId?: string;
  cardToken?: string;
}

/**
 * Whether a browser is the buyer's own: the one that paid, or one that has proved to read their inbox (their library is
 * open in it, or it came by the link of an email). The link to an order alone is no proof: receipts are forwarded.
 */
export const isBuyersBrowser = async (
  em: EntityManager,
  order: Pick<Order, "checkoutId" | "contactId">,
  { visitorId, buyerId }: Pick<PressedBy, "visitorId" | "buyerId">,
): Promise<boolean> => {
  if (buyerId === order.contactId) return true;
  if (!visitorId || !order.checkoutId) return false;
  return (await em.count(Checkout, { id: order.checkoutId, visitorId })) > 0;
};

/**
 * Takes a buyer's answer to an offer. *No* is written down; *yes* charges the stored card. The first answer holds:
 * pressed twice, reloaded or replayed, there is one charge. Answers the charge that was made or found, if any.
 */
export const decideOffer = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  orderId: string,
  stepId: string,
  decision: Decision,
  by: PressedBy,
): Promise<Charge | undefined> => {
  const now = app.clock.now();
  const chargeId = await em.transactional(async (tx) => {
    const order = required(await tx.findOne(Order, { id: orderId, launchId: context.launch.id }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "order");
    const { step } = await placeOnPath(tx, context, order);
    if (step?.id !== stepId) return undefined;
    const live = await tx.findOne(Charge, { checkoutId: order.checkoutId!, stepId, state: { $ne: "declined" } });
    if (live) return live.id;
    if (decision === "no") {
      await tx.insert(OfferDecision, { orderId, stepId, decision: "no", at: now });
      const pressed = { launchId: order.launchId, personId: order.personId, visitorId: by.visitorId ?? null, at: now, page: step.page.key };
      const data = { order: orderId, step: stepId, product: step.productId };
      if (!order.test) await writeSale(tx, { event: [eventRow({ ...pressed, country: order.country }, { kind: "offer_declined", data })] });
      return undefined;
    }
    const lines = await offerLines(
      tx,
      step.product,
      order.currency,
      { country: order.country, region: order.region, reverse: order.reverseCharge },
      now,
    );
    const items = lines.map(({ product, role, amount, recurring }) => itemOf(product.id, role, amount, { later: recurring?.due }));
    const card = by.cardToken ?? ((await isBuyersBrowser(tx, order, by)) ? order.cardRef : undefined);
    if (!card) throw wrongField("nothing_charged", "cardToken", { code: "card_missing" });
    const attempt = (await tx.count(Charge, { checkoutId: order.checkoutId!, stepId })) + 1;
    const id = randomUUID();
    // Pressed again after a refusal, the same words are agreed to once.
    const said = agreedByPress(lines, order, now).filter(({ words }) => !order.agreed.some((one) => one.words === words));
    order.agreed = [...order.agreed, ...said];
    await beginCharge(
      tx,
      {
        id,
        idempotencyKey: `offer:${orderId}:${stepId}:${attempt}`,
        checkoutId: order.checkoutId!,
        stepId,
        amountMinor: totalOf(items).gross,
        currency: order.currency,
        items,
        card,
        captureLater: totalOf(items).gross > 0 && waitsForFulfilment(step.product),
        returnUrl: returnUrlOf(app, context.launch.slug, id, now),
      },
      now,
    );
    if (!order.test) await mustHaveSeat(tx, context, items);
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
