import { randomUUID } from "node:crypto";
import { LockMode } from "@mikro-orm/core";
import { feesOf, mayBecome, type ChargeItem, type Evidence } from "../../core/offers";
import { paymentPostings } from "../../core/money";
import { Charge, Checkout, Contact, Launch, Order, OrderLine, Product } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { CardNotTaken, ProcessorUnreachable, type ChargeResult } from "../../outside/cardProcessor";
import type { App } from "../app/app";
import { found } from "../app/refusal";
import { signLink } from "../app/signedLink";
import { queueEmail } from "../emails/queueEmail";
import { book } from "../money/book";
import { loadBundle } from "../launch/bundle";
import { stopClock, stopsAtPurchase } from "../launch/persons";
import { reverseChargeOf } from "./quote";
import { tellSold } from "./soldCounters";
import { decideCredit, earnCommission } from "../partners/earn";
import { writeEvents } from "../people/eventLog";

/** How long a receipt waits for the buyer to finish the offers, so that one receipt names them all. */
const receiptWaitMs = 15 * 60_000;

/** Writes the lines of a charge into its order, each with its part of the fee, its journal and its commission. Answers the first. */
const addLines = async (em: EntityManager, order: Order, charge: Charge, fee: number, now: Date): Promise<OrderLine> => {
  const fees = feesOf(charge.items, fee);
  const lines: OrderLine[] = [];
  for (const [index, item] of charge.items.entries()) lines.push(await addLine(em, order, charge, item, fees[index]!, now));
  return lines[0]!;
};

const addLine = async (em: EntityManager, order: Order, charge: Charge, item: ChargeItem, fee: number, now: Date): Promise<OrderLine> => {
  const product = await em.findOneOrFail(Product, { id: item.productId });
  const line = em.create(OrderLine, {
    id: randomUUID(),
    orderId: order.id,
    chargeId: charge.id,
    productId: product.id,
    stepId: charge.stepId,
    role: item.role,
    name: product.name,
    grossMinor: item.gross,
    taxMinor: item.tax,
    netMinor: item.gross - item.tax,
    rateBp: item.rateBp,
    feeMinor: fee,
    discountMinor: item.discount ?? 0,
  });
  await em.persist(line).flush();
  const about = { orderId: order.id, lineId: line.id };
  if (line.role === "front") await tellSold(em, order.launchId);
  await book(em, "payment", about, paymentPostings({ net: line.netMinor, tax: line.taxMinor, fee, currency: order.currency }), now);
  await earnCommission(em, order, line, product.refundDays, now);
  return line;
};

/** What stops when a charge is paid: the first rule that one of its products fits. */
const stopOf = ({ settings }: Pick<Launch, "settings">, { items }: Pick<Charge, "items">) =>
  items.map(({ productId }) => stopsAtPurchase(settings, productId)).find(Boolean);

/** The version of the path that buyers of this instant begin, 0 where there is none. */
const pathVersionNow = async (em: EntityManager, launchId: string): Promise<number> => {
  const [row] = await em.execute<{ version: number | null }[]>("select max(version) as version from path_version where launch_id = ?", [launchId]);
  return row!.version ?? 0;
};

/** What is known of where a buyer is: what they said, who issued their card, and what their browser speaks. */
const evidenceOf = ({ country, browserCountry }: Checkout, { card_country }: ChargeResult): Evidence[] => [
  { kind: "billing", country: country! },
  ...(card_country ? [{ kind: "card" as const, country: card_country }] : []),
  ...(browserCountry ? [{ kind: "browser" as const, country: browserCountry }] : []),
];

const placeOrder = async (app: App, em: EntityManager, charge: Charge, result: ChargeResult, now: Date): Promise<void> => {
  const checkout = await em.findOneOrFail(Checkout, { id: charge.checkoutId });
  const launch = await em.findOneOrFail(Launch, { id: checkout.launchId });
  const contact = await em.findOneOrFail(Contact, { id: checkout.contactId! });
  const credit = await decideCredit(em, launch, checkout.personId, contact, now);
  const order = em.create(Order, {
    id: randomUUID(),
    launchId: launch.id,
    checkoutId: checkout.id,
    contactId: contact.id,
    personId: checkout.personId,
    currency: charge.currency,
    placedAt: now,
    country: checkout.country!,
    vatNumber: checkout.vatNumber ?? null,
    reverseCharge: reverseChargeOf(app, checkout),
    evidence: evidenceOf(checkout, result),
    cardRef: result.card,
    cardLast4: result.last4,
    source: "own",
    externalId: null,
    partnerId: credit.partnerId ?? null,
    credit,
    recovered: checkout.recoveredThroughEmail,
    pathVersion: await pathVersionNow(em, launch.id),
  });
  checkout.paidAt = now;
  await em.persist(order).flush();
  await addLines(em, order, charge, result.fee, now);
  if (charge.coupon) {
    const discount = charge.items.reduce((sum, item) => sum + (item.discount ?? 0), 0);
    await em.execute(
      "insert into coupon_use (order_id, coupon_id, code, discount_minor, currency, at) select ?, coupon_id, code, ?, ?, ? from coupon_code where code = ?",
      [order.id, discount, charge.currency, now, charge.coupon],
    );
  }
  const stop = stopOf(launch, charge);
  if (stop) await stopClock(em, (id) => loadBundle(em, { id }), launch.id, checkout.personId, "purchase", stop.handTo, now);
  const [visitor] = await em.execute<{ id: string }[]>("select id from visitor where person_id = ? limit 1", [checkout.personId]);
  await writeEvents(em, [
    { launchId: launch.id, visitorId: visitor?.id ?? checkout.personId, kind: "paid", at: now, page: "checkout", country: order.country },
  ]);
  await queueEmail(em, {
    key: `receipt:${order.id}`,
    kind: "receipt",
    launchId: launch.id,
    contactId: contact.id,
    dueAt: new Date(now.getTime() + receiptWaitMs),
    data: { orderId: order.id },
  });
};

const acceptOffer = async (em: EntityManager, charge: Charge, result: ChargeResult, now: Date): Promise<void> => {
  const order = await em.findOneOrFail(Order, { checkoutId: charge.checkoutId });
  const line = await addLines(em, order, charge, result.fee, now);
  const stop = stopOf(await em.findOneOrFail(Launch, { id: order.launchId }), charge);
  if (stop) await stopClock(em, (id) => loadBundle(em, { id }), order.launchId, order.personId, "purchase", stop.handTo, now);
  await em.execute("insert into offer_decision (order_id, step_id, decision, at) values (?, ?, 'yes', ?)", [order.id, charge.stepId, now]);
  const [sent] = await em.execute("select 1 from email_message where key = ? and state = 'sent'", [`receipt:${order.id}`]);
  // The receipt of the order is out already (the buyer came back later): this line gets its own.
  if (sent) {
    const data = { orderId: order.id, lineId: line.id };
    await queueEmail(em, {
      key: `receipt:${order.id}:${line.id}`,
      kind: "receipt",
      launchId: order.launchId,
      contactId: order.contactId,
      dueAt: now,
      data,
    });
  }
};

/**
 * Writes down what the processor said of a charge, and all that follows from a payment, in one transaction.
 * Whoever brings the news (the request, the return from a challenge, a notice, the worker), it is applied once.
 */
export const applyResult = async (app: App, chargeId: string, result: ChargeResult): Promise<Charge> =>
  app.fork().transactional(async (em) => {
    const charge = found(await em.findOne(Charge, { id: chargeId }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "charge");
    if (result.idempotency_key !== charge.idempotencyKey || result.amount !== charge.amountMinor || result.currency !== charge.currency) {
      throw new Error(`The processor's charge ${result.id} does not match charge ${chargeId} in key, amount or currency; nothing was booked.`);
    }
    const state = result.status === "challenge_required" ? "challenge" : result.status;
    if (!mayBecome(charge.state, state)) return charge;
    const now = app.clock.now();
    Object.assign(charge, { state, processorId: result.id, challengeUrl: result.challenge_url, declineCode: result.decline_code });
    if (state !== "challenge") charge.settledAt = now;
    await em.flush();
    if (state === "succeeded") await (charge.stepId ? acceptOffer(em, charge, result, now) : placeOrder(app, em, charge, result, now));
    return charge;
  });

/** Where the bank's question sends the browser back to: a signed link to the charge, for as long as a question may take. */
export const returnUrlOf = async (app: App, slug: string, chargeId: string, now: Date): Promise<string> =>
  `${app.config.origin}/l/${slug}/charge?c=${await signLink(app.config.INKBELL_SECRET, "charge", chargeId, now, 2)}`;

/** Asks the processor for a pending charge and applies the answer. Unreachable: the charge stays pending and the worker asks again. */
export const chargeNow = async (app: App, chargeId: string): Promise<Charge> => {
  const charge = found(await app.fork().findOne(Charge, { id: chargeId }), "charge");
  if (charge.state !== "pending") return charge;
  try {
    const result = await app.cards.charge(
      { card: charge.card, amount: charge.amountMinor, currency: charge.currency, description: `charge ${charge.id}`, returnUrl: charge.returnUrl },
      charge.idempotencyKey,
    );
    return await applyResult(app, chargeId, result);
  } catch (error) {
    // Left pending it would never end, and no other card could be tried.
    if (error instanceof CardNotTaken) {
      const { idempotencyKey: idempotency_key, amountMinor: amount, currency } = charge;
      return applyResult(app, chargeId, {
        id: `refused_${chargeId}`,
        status: "declined",
        idempotency_key,
        amount,
        currency,
        fee: 0,
        decline_code: "card_not_taken",
      });
    }
    if (!(error instanceof ProcessorUnreachable)) throw error;
    app.log.error({ charge: chargeId, error: error.message }, "the charge is not settled yet");
    return charge;
  }
};

/** Brings a charge to its end where a request could not: a crash, a closed browser, an unanswered call. Throws to be tried again. */
export const settleCharge = async (app: App, chargeId: string): Promise<void> => {
  const charge = await app.fork().findOne(Charge, { id: chargeId });
  if (!charge || charge.state === "succeeded" || charge.state === "declined") return;
  if (charge.state === "challenge") return void (await refreshCharge(app, chargeId));
  const after = await chargeNow(app, chargeId);
  if (after.state === "pending") throw new Error("the charge is still pending");
};

/** Asks the processor how a charge stands after a challenge, and applies the answer. */
export const refreshCharge = async (app: App, chargeId: string): Promise<Charge> => {
  const charge = found(await app.fork().findOne(Charge, { id: chargeId }), "charge");
  if (charge.state !== "challenge" || !charge.processorId) return chargeNow(app, chargeId);
  return applyResult(app, chargeId, await app.cards.chargeById(charge.processorId));
};
