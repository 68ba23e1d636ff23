import { randomUUID } from "node:crypto";
import { LockMode } from "@mikro-orm/core";
import { feesOf, mayBecome, paymentDay, type ChargeItem, type Evidence } from "../../core/offers";
import { paymentPostings } from "../../core/money";
import type { Launch } from "../../store/entities";
import { Charge, Checkout, Contact, Order, Partner, Product, type OrderLine } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { insertSale, type SaleRows } from "../../store/statements/insertSale";
import { CardNotTaken, ProcessorUnreachable, type CardProcessor, type ChargeResult } from "../../outside/cardProcessor";
import type { App } from "../app/app";
import { queue } from "../app/outbox";
import { found } from "../app/refusal";
import { signLink } from "../app/signedLink";
import { queueEmail } from "../emails/queueEmail";
import { journalRows, together } from "../money/book";
import { loadBundle, type LaunchBundle } from "../launch/bundle";
import { stopClock, stopsAtPurchase } from "../launch/persons";
import { paidLater, refusedLater, scheduleLater } from "./later";
import { reverseChargeOf } from "./quote";
import { tellSold } from "./soldCounters";
import { commissionRows, decideCredit } from "../partners/earn";
import { writeEvents } from "../people/eventLog";

/** How long a receipt waits for the buyer to finish the offers, so that one receipt names them all. */
const receiptWaitMs = 15 * 60_000;

/** Products of a charge: as the launch knows them, or as they were sold before its pages changed. */
const productsOf = async (em: EntityManager, bundle: LaunchBundle, items: readonly ChargeItem[]): Promise<Map<string, Product>> => {
  const missing = items.map(({ productId }) => productId).filter((id) => !bundle.products.has(id));
  const rows = missing.length > 0 ? await em.find(Product, { id: { $in: missing } }) : [];
  return new Map([...bundle.products, ...rows.map((one) => [one.id, one] as const)]);
};

type Placed = Pick<Order, "id" | "placedAt" | "currency" | "partnerId" | "test">;
type Line = Pick<OrderLine, "id" | "role" | "netMinor" | "quantity"> & { item: ChargeItem };

/** The rows of a charge's lines, each with its part of the fee, its journal, its commission and what is paid later. Who tries things out books nothing. */
const lineRows = async (
  em: EntityManager,
  bundle: LaunchBundle,
  order: Placed,
  charge: Charge,
  fee: number,
  now: Date,
): Promise<{ rows: SaleRows; lines: Line[] }> => {
  const fees = feesOf(charge.items, fee);
  const products = await productsOf(em, bundle, charge.items);
  const partner = order.partnerId ? await em.findOne(Partner, { id: order.partnerId }) : null;
  const lines: Line[] = [];
  const parts = charge.items.map((item, index): SaleRows => {
    const product = products.get(item.productId)!;
    const { gross, tax, role, rateBp, quantity = 1, discount = 0 } = item;
    const id = randomUUID();
    const net = gross - tax;
    const line: Line = { id, role, netMinor: net, quantity, item };
    lines.push(line);
    const row = {
      ...{ id, order_id: order.id, charge_id: charge.id, product_id: product.id, step_id: charge.stepId, role, name: nameOf(product, item) },
      ...{ net_minor: net, tax_minor: tax, gross_minor: gross, rate_bp: rateBp, fee_minor: fees[index]!, discount_minor: discount, quantity },
    };
    if (order.test) return { order_line: [row] };
    const { currency } = order;
    return together(
      { order_line: [row] },
      journalRows("payment", { orderId: order.id, lineId: id }, paymentPostings({ net, tax, fee: fees[index]!, currency }), now),
      commissionRows(bundle, partner, order, line, product.refundDays, now),
      item.later ? agreementRow(order.id, line, product.id, item.later, now) : {},
    );
  });
  return { rows: together(...parts), lines };
};

const nameOf = ({ name }: Product, { role, quantity = 1 }: ChargeItem): string => {
  if (role === "shipping") return `Sending ${name}`;
  return quantity > 1 ? `${quantity} × ${name}` : name;
};

const agreementRow = (orderId: string, { id, quantity }: Line, productId: string, later: NonNullable<ChargeItem["later"]>, now: Date): SaleRows => {
  const { every, minor, times, firstAfterDays } = later;
  // After a trial the first payment is due when it ends; else one interval after what was paid at once.
  const first = firstAfterDays === undefined ? paymentDay(now, every, 1) : new Date(now.getTime() + firstAfterDays * 86_400_000);
  const row = { id: randomUUID(), order_id: orderId, line_id: id, product_id: productId, minor, quantity, every, payments_left: times };
  return { agreement: [{ ...row, begun_at: now, first_at: first, next_at: first }] };
};

/** What stops when a charge is paid: the first rule that one of its products fits. */
const stopOf = ({ settings }: Pick<Launch, "settings">, { items }: Pick<Charge, "items">) =>
  items.map(({ productId }) => stopsAtPurchase(settings, productId)).find(Boolean);

/** What is known of where a buyer is: what they said, who issued their card, and what their browser speaks. */
const evidenceOf = ({ country, browserCountry }: Checkout, { card_country }: Pick<ChargeResult, "card_country">): Evidence[] => [
  { kind: "billing", country: country! },
  ...(card_country ? [{ kind: "card" as const, country: card_country }] : []),
  ...(browserCountry ? [{ kind: "browser" as const, country: browserCountry }] : []),
];

const placeOrder = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  charge: Charge,
  checkout: Checkout,
  result: ChargeResult,
  now: Date,
): Promise<void> => {
  const { launch } = bundle;
  const { test } = checkout;
  const contact = await em.findOneOrFail(Contact, { id: checkout.contactId! });
  const credit = await decideCredit(em, launch, checkout.personId, contact, now);
  // An offer bought by itself is followed by none: its path was walked, or never begun.
  const alone = checkout.productId != null && checkout.productId !== bundle.product.id;
  const order = {
    ...{ id: randomUUID(), launch_id: launch.id, checkout_id: checkout.id, contact_id: contact.id, person_id: checkout.personId },
    ...{ currency: charge.currency, placed_at: now, country: checkout.country!, card_ref: result.card ?? null, card_last4: result.last4 ?? null },
    ...{ source: "own", external_id: null, partner_id: test ? null : (credit.partnerId ?? null), credit, recovered: checkout.recoveredThroughEmail },
    ...{ vat_number: checkout.vatNumber ?? null, reverse_charge: reverseChargeOf(app, checkout), evidence: evidenceOf(checkout, result) },
    ...{ path_version: alone ? 0 : bundle.laid.version, test, agreed: checkout.agreed },
  };
  const placed = { id: order.id, placedAt: now, currency: charge.currency, partnerId: order.partner_id, test };
  const { rows } = await lineRows(em, bundle, placed, charge, result.fee, now);
  checkout.paidAt = now;
  await em.flush();
  await insertSale(em, together({ sale_order: [order] }, rows));
  await scheduleLater(em, rows.agreement ?? []);
  const about = { launchId: launch.id, contactId: contact.id, data: { orderId: order.id } };
  await queueEmail(em, { key: `receipt:${order.id}`, kind: "receipt", ...about, dueAt: new Date(now.getTime() + receiptWaitMs) });
  if (test) return;
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
};

const acceptOffer = async (em: EntityManager, bundle: LaunchBundle, charge: Charge, result: ChargeResult, now: Date): Promise<void> => {
  const order = await em.findOneOrFail(Order, { checkoutId: charge.checkoutId });
  const { rows, lines } = await lineRows(em, bundle, order, charge, result.fee, now);
  await insertSale(em, rows);
  await scheduleLater(em, rows.agreement ?? []);
  // Paid with another card than the order's: that one is stored from now on.
  if (result.card && result.card !== order.cardRef) Object.assign(order, { cardRef: result.card, cardLast4: result.last4 ?? null });
  await em.flush();
  const stop = stopOf(bundle.launch, charge);
  if (stop && !order.test) await stopClock(em, (id) => loadBundle(em, { id }), order.launchId, order.personId, "purchase", stop.handTo, now);
  await em.execute("insert into offer_decision (order_id, step_id, decision, at) values (?, ?, 'yes', ?)", [order.id, charge.stepId, now]);
  const [sent] = await em.execute("select 1 from email_message where key = ? and state = 'sent'", [`receipt:${order.id}`]);
  // The receipt of the order is out already (the buyer came back later): this line gets its own.
  if (sent) await queueReceipt(em, order, lines[0]!.id, now);
};

/** A receipt of one line, for what was paid after the order's own had gone out. */
export const queueReceipt = (em: EntityManager, order: Pick<Order, "id" | "launchId" | "contactId">, lineId: string, now: Date): Promise<void> =>
  queueEmail(em, {
    ...{ key: `receipt:${order.id}:${lineId}`, kind: "receipt", launchId: order.launchId, contactId: order.contactId, dueAt: now },
    data: { orderId: order.id, lineId },
  });

/** A payment of an agreement went through: its line stands in the order, and the next one waits for its day. */
const takePayment = async (em: EntityManager, bundle: LaunchBundle, charge: Charge, result: ChargeResult, now: Date): Promise<void> => {
  const order = await em.findOneOrFail(Order, { checkoutId: charge.checkoutId });
  const { rows, lines } = await lineRows(em, bundle, order, charge, result.fee, now);
  await insertSale(em, rows);
  await paidLater(em, charge.agreementId!, now);
  await queueReceipt(em, order, lines[0]!.id, now);
};

/**
 * Writes down what the processor said of a charge, and all that follows from a payment, in one transaction.
 * Whoever brings the news (the request, the return from a challenge, a notice, the worker), it is applied once.
 */
export const applyResult = async (app: App, chargeId: string, result: ChargeResult): Promise<Charge> => {
  const [of] = await app
    .fork()
    .execute<{ launch_id: string }[]>("select k.launch_id from charge g join checkout k on k.id = g.checkout_id where g.id = ?", [chargeId]);
  const bundle = found(of && (await app.launches.byId(of.launch_id)), "charge");
  const charge = await app.fork().transactional(async (em) => {
    const charge = found(await em.findOne(Charge, { id: chargeId }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "charge");
    if (result.idempotency_key !== charge.idempotencyKey || result.amount !== charge.amountMinor || result.currency !== charge.currency) {
      throw new Error(`The processor's charge ${result.id} does not match charge ${chargeId} in key, amount or currency; nothing was booked.`);
    }
    const state = result.status === "challenge_required" ? "challenge" : result.status;
    if (!mayBecome(charge.state, state)) return charge;
    const now = app.clock.now();
    Object.assign(charge, { state, processorId: result.id, challengeUrl: result.challenge_url, declineCode: result.decline_code });
    if (state !== "challenge") charge.settledAt = now;
    if (charge.agreementId) {
      await em.flush();
      // A bank that asks a buyer who is not there has refused, as far as this payment goes.
      if (state === "succeeded") await takePayment(em, bundle, charge, result, now);
      else await refusedLater(em, charge, state === "challenge" ? "challenge_failed" : result.decline_code, now);
    } else if (state === "succeeded" && charge.stepId) {
      await em.flush();
      await acceptOffer(em, bundle, charge, result, now);
    } else if (state === "succeeded") {
      await placeOrder(app, em, bundle, charge, await em.findOneOrFail(Checkout, { id: charge.checkoutId }), result, now);
    }
    await em.flush();
    return charge;
  });
  // After the commit: a notice within it would make every payment wait for the one before to be on the disk.
  if (charge.state === "succeeded" && charge.items.some(({ role }) => role === "front")) await tellSold(app.fork(), bundle.launch.id);
  return charge;
};

/** Where the bank's question sends the browser back to: a signed link to the charge, for as long as a question may take. */
export const returnUrlOf = async (app: App, slug: string, chargeId: string, now: Date): Promise<string> =>
  `${app.config.origin}/l/${slug}/charge?c=${await signLink(app.config.INKBELL_SECRET, "charge", chargeId, now, 2)}`;

/** The processor's account that a charge goes to. */
export const processorOf = async (app: App, { checkoutId, currency }: Pick<Charge, "checkoutId" | "currency">): Promise<CardProcessor> => {
  const { test } = await app.fork().findOneOrFail(Checkout, { id: checkoutId }, { fields: ["test"] });
  return app.cards.for({ currency, test });
};

/** An answer that is made here: where there is nothing to charge and no card, or where a card was not taken. */
const madeHere = (charge: Charge, change: Pick<ChargeResult, "status" | "decline_code">): ChargeResult => ({
  id: `own_${charge.id}`,
  idempotency_key: charge.idempotencyKey,
  amount: charge.amountMinor,
  currency: charge.currency,
  fee: 0,
  ...change,
});

/** What stands as the card of an order of nothing. */
export const noCard = "none";

/** Asks the processor for a pending charge and applies the answer. Unreachable: the charge stays pending and the worker asks again. */
export const chargeNow = async (app: App, chargeId: string): Promise<Charge> => {
  const charge = found(await app.fork().findOne(Charge, { id: chargeId }), "charge");
  if (charge.state !== "pending") return charge;
  if (charge.card === noCard) return applyResult(app, chargeId, madeHere(charge, { status: "succeeded" }));
  try {
    const result = await (
      await processorOf(app, charge)
    ).charge(
      { card: charge.card, amount: charge.amountMinor, currency: charge.currency, description: `charge ${charge.id}`, returnUrl: charge.returnUrl },
      charge.idempotencyKey,
    );
    return await applyResult(app, chargeId, result);
  } catch (error) {
    // Left pending it would never end, and no other card could be tried.
    if (error instanceof CardNotTaken) return applyResult(app, chargeId, madeHere(charge, { status: "declined", decline_code: "card_not_taken" }));
    if (!(error instanceof ProcessorUnreachable)) throw error;
    app.log.error({ charge: chargeId, error: error.message }, "the charge is not settled yet");
    return charge;
  }
};

/** Writes a charge down before anybody is asked, and has the worker look after it should this process die. */
export const beginCharge = async (
  tx: EntityManager,
  charge: Pick<Charge, "id" | "idempotencyKey" | "checkoutId" | "amountMinor" | "currency" | "items" | "card" | "returnUrl"> &
    Partial<Pick<Charge, "stepId" | "coupon" | "agreementId" | "nth">>,
  now: Date,
): Promise<Charge> => {
  const made = tx.create(Charge, { stepId: null, coupon: null, state: "pending", createdAt: now, ...charge });
  await tx.persist(made).flush();
  await queue(tx, "settle_charge", { id: made.id }, new Date(now.getTime() + 20_000), `settle:${made.id}`);
  return made;
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
  return applyResult(app, chargeId, await (await processorOf(app, charge)).chargeById(charge.processorId));
};
