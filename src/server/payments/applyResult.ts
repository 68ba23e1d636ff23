import { type LaunchContext, launchesOf } from "../launch";
import { countersFor, reverseChargeOf } from "../offers";
import { randomUUID } from "node:crypto";
import { mayBecome, type ChargeState, type Evidence } from "../../core/offers";
import { OfferDecision, Order, Partner, type Charge } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { chargeFacts, type ChargeFacts } from "../../store/payments/chargeFacts";
import { couponOwner } from "../../store/products/couponOwner";
import { mergeRows, writeSale, type SaleRows } from "../../store/payments/writeSale";
import type { ChargeResult } from "../../outside/cardProcessor";
import { type App, required } from "../platform";

import { creditOf, earnerOf } from "../partners";
import { eventRow } from "../../store/events/writeEvents";
import { capturedLines, noteVoided, noteCaptured } from "./capturing";
import { notePaid, noteRefused } from "./recurringPayments";
import { lineRows, paidRows, productsOf, soldLines } from "./saleRows";
import { sold, type Earner, type Line, type Placed, type Sold } from "./sold";

/** A result on its way into the books. */
interface Applied extends ChargeFacts {
  app: App;
  context: LaunchContext;
  result: ChargeResult;
  now: Date;
}

/** Rows that go with the charge's, and what is done in the same transaction once they are written. */
interface Outcome {
  rows: SaleRows;
  also?: (tx: EntityManager) => Promise<unknown>;
}

/** What is known of where a buyer is: what they said, who issued their card, and what their browser speaks. */
const evidenceOf = ({ country, browserCountry }: ChargeFacts["checkout"], { card_country }: ChargeResult): Evidence[] => [
  { kind: "billing", country: country! },
  ...(card_country ? [{ kind: "card" as const, country: card_country }] : []),
  ...(browserCountry ? [{ kind: "browser" as const, country: browserCountry }] : []),
];

/** The checkout is paid: its order with lines, books, credit and receipt. What is only held is booked when it is taken. */
const placeOrder = async (em: EntityManager, applied: Applied): Promise<Outcome> => {
  const { app, context, charge, checkout, contact, touches, result, now } = applied;
  const { launch } = context;
  const { test, personId } = checkout;
  const owner = charge.coupon ? await couponOwner(em, charge.coupon, contact!.email) : undefined;
  const credit = creditOf(touches ?? [], launch, now, owner);
  const earner = test ? null : earnerOf(touches ?? [], credit, owner);
  // An offer bought by itself is followed by none: its path was walked, or never begun.
  const alone = checkout.productId != null && checkout.productId !== context.product.id;
  const order = {
    id: randomUUID(),
    launch_id: launch.id,
    checkout_id: checkout.id,
    contact_id: contact!.id,
    person_id: personId,
    currency: charge.currency,
    placed_at: now,
    country: checkout.country!,
    region: checkout.region,
    card_ref: result.card ?? null,
    card_last4: result.last4 ?? null,
    source: "own",
    external_id: null,
    partner_id: earner?.id ?? null,
    credit,
    recovered: checkout.recoveredThroughEmail,
    vat_number: checkout.vatNumber ?? null,
    reverse_charge: reverseChargeOf(app, checkout),
    evidence: evidenceOf(checkout, result),
    path_version: alone ? 0 : context.savedPath.version,
    test,
    agreed: checkout.agreed,
  };
  const placed = { id: order.id, launchId: launch.id, contactId: contact!.id, placedAt: now, currency: charge.currency, test };
  const products = await productsOf(
    em,
    context,
    charge.items.map(({ productId }) => productId),
  );
  const { rows, lines } = lineRows(products, placed, charge, result.fee, now);
  const discountMinor = charge.items.reduce((sum, item) => sum + (item.discount ?? 0), 0);
  const reaction = sold.reactionTo({
    ...saleOf(applied, { ...placed, personId, country: checkout.country! }, earner),
    how: "ordered",
    lines: soldLines(products, lines),
    page: "checkout",
    coupon: charge.coupon ? { code: charge.coupon, discountMinor } : undefined,
  });
  const own: SaleRows = { checkout: [{ id: checkout.id, paid_at: now }], sale_order: [order] };
  return { rows: mergeRows(own, rows, booked(applied, placed, lines), reaction.rows), also: reaction.then };
};

/** What every sale by a charge says of itself. */
const saleOf = ({ context, charge, checkout, result, now }: Applied, order: Sold["order"], earner: Earner) => ({
  context,
  order,
  earner,
  amountMinor: charge.amountMinor,
  paid: result.status === "succeeded",
  visitorId: checkout.visitorId,
  receipt: true,
  now,
});

/** Lines are booked once their money is here. */
const booked = ({ result, now }: Applied, order: Placed, lines: readonly Line[]): SaleRows =>
  result.status === "succeeded" ? paidRows(order, lines, now) : {};

/** The order that a later charge goes into, with its products and the partner who is credited with it. */
const orderOf = async (em: EntityManager, context: LaunchContext, { checkoutId, items }: Charge) => {
  const order = await em.findOneOrFail(Order, { checkoutId });
  const products = await productsOf(
    em,
    context,
    items.map(({ productId }) => productId),
  );
  return { order, products, earner: order.partnerId ? await em.findOneOrFail(Partner, { id: order.partnerId }) : null };
};

/** The page on which a charge was asked for: of its step, as the path is now, or the checkout. */
const pageOfStep = ({ steps }: LaunchContext, { stepId }: Charge): string =>
  stepId ? (steps.find(({ id }) => id === stepId)?.page.key ?? "offer") : "checkout";

/** An offer was accepted and paid, or is held: its lines go into the order. */
const acceptOffer = async (em: EntityManager, applied: Applied): Promise<Outcome> => {
  const { context, charge, result, now } = applied;
  const { order, products, earner } = await orderOf(em, context, charge);
  const { rows, lines } = lineRows(products, order, charge, result.fee, now);
  const reaction = sold.reactionTo({
    ...saleOf(applied, order, earner),
    how: "offer_accepted",
    lines: soldLines(products, lines),
    page: pageOfStep(context, charge),
    stepId: charge.stepId!,
  });
  const also: Outcome["also"] = async (tx) => {
    // Paid with another card than the order's: that one is stored from now on.
    if (result.card && result.card !== order.cardRef)
      await tx.nativeUpdate(Order, { id: order.id }, { cardRef: result.card, cardLast4: result.last4 ?? null });
    await tx.insert(OfferDecision, { orderId: order.id, stepId: charge.stepId!, decision: "yes", at: now });
    await reaction.then?.(tx);
  };
  return { rows: mergeRows(rows, booked(applied, order, lines), reaction.rows), also };
};

/** A recurring payment was charged: its line stands in the order, and the next one waits for its day. */
const takePayment = async (em: EntityManager, applied: Applied): Promise<Outcome> => {
  const { context, charge, result, now } = applied;
  const { order, products, earner } = await orderOf(em, context, charge);
  const { rows, lines } = lineRows(products, order, charge, result.fee, now);
  const reaction = sold.reactionTo({ ...saleOf(applied, order, earner), how: "rebilled", lines: soldLines(products, lines), page: "checkout" });
  return {
    rows: mergeRows(rows, booked(applied, order, lines), reaction.rows),
    also: async (tx) => {
      await notePaid(tx, charge.recurringPaymentId!, now);
      await reaction.then?.(tx);
    },
  };
};

/** What the card held is taken: the books say so from now on. */
const captureRows = async (em: EntityManager, applied: Applied): Promise<Outcome> => {
  const { context, charge, result, now } = applied;
  const { order, products, earner } = await orderOf(em, context, charge);
  const lines = await capturedLines(em, charge, result.fee);
  const reaction = sold.reactionTo({ ...saleOf(applied, order, earner), how: "captured", lines: soldLines(products, lines), page: "checkout" });
  return {
    rows: mergeRows(booked(applied, order, lines), reaction.rows),
    also: async (tx) => {
      await noteCaptured(tx, order.id, lines, now);
      await reaction.then?.(tx);
    },
  };
};

const outcomeOf = async (em: EntityManager, state: ChargeState, applied: Applied): Promise<Outcome> => {
  const { context, checkout, charge, result, now } = applied;
  if (state === "voided") return { rows: {}, also: (tx) => noteVoided(tx, charge, result, now) };
  if (state === "succeeded" && charge.state === "authorized") return captureRows(em, applied);
  if (state === "succeeded" || state === "authorized")
    return charge.recurringPaymentId ? takePayment(em, applied) : charge.stepId ? acceptOffer(em, applied) : placeOrder(em, applied);
  const { recurringPaymentId } = charge;
  const refused = eventRow(
    { ...checkout, at: now, page: pageOfStep(context, charge) },
    {
      kind: "payment_refused",
      data: { checkout: checkout.id, amountMinor: charge.amountMinor, currency: charge.currency, code: result.decline_code ?? undefined },
    },
  );
  const rows = state === "declined" && !checkout.test ? { event: [refused] } : {};
  return { rows, also: recurringPaymentId ? (tx) => noteRefused(tx, recurringPaymentId, result.decline_code, now) : undefined };
};

/** A bank that asks a buyer who is not there has refused, as far as a later payment goes. */
const withoutChallenge = (result: ChargeResult, { recurringPaymentId }: Charge): ChargeResult =>
  recurringPaymentId && result.status === "challenge_required" ? { ...result, status: "declined", decline_code: "challenge_failed" } : result;

/**
 * Writes down what the processor said of a charge, and all that follows from a payment, in one transaction.
 * Whoever brings the news (the request, the return from a challenge, a notice, the worker), it is applied once.
 * `known` are facts that were read before the processor was asked.
 */
export const applyResult = async (app: App, chargeId: string, result: ChargeResult, known?: ChargeFacts): Promise<Charge> => {
  const reader = app.fork();
  const facts = known ?? required(await chargeFacts(reader, chargeId), "charge");
  const { charge, checkout } = facts;
  if (result.idempotency_key !== charge.idempotencyKey || result.amount !== charge.amountMinor || result.currency !== charge.currency) {
    throw new Error(`The processor's charge ${result.id} does not match charge ${chargeId} in key, amount or currency; nothing was booked.`);
  }
  const decided = withoutChallenge(result, charge);
  const state = decided.status === "challenge_required" ? "challenge" : decided.status;
  if (!mayBecome(charge.state, state)) return charge;
  const context = required(await launchesOf(app).byId(checkout.launchId), "launch");
  const now = app.clock.now();
  const change = {
    state,
    processorId: decided.id,
    challengeUrl: decided.challenge_url ?? null,
    declineCode: decided.decline_code ?? null,
    settledAt: state === "challenge" || state === "authorized" ? null : now,
  };
  const settled: SaleRows = {
    charge: [
      {
        id: charge.id,
        was: charge.state,
        state,
        processor_id: change.processorId,
        challenge_url: change.challengeUrl,
        decline_code: change.declineCode,
        settled_at: change.settledAt,
      },
    ],
  };
  const { rows, also } = await outcomeOf(reader, state, { ...facts, app, context, result: decided, now });
  const all = mergeRows(settled, rows);
  // One statement is a transaction by itself.
  const written = also
    ? await app.fork().transactional(async (tx) => {
        if (!(await writeSale(tx, all))) return false;
        await also(tx);
        return true;
      })
    : await writeSale(app.fork(), all);
  // Somebody else brought the same news meanwhile, or newer: it is looked at again.
  if (!written) return applyResult(app, chargeId, result);
  // After the commit: a notice within it would make every payment wait for the one before to be on the disk.
  if (rows.sale_order?.length && charge.items.some(({ role }) => role === "front")) await countersFor(app).notify(context);
  return Object.assign(charge, change);
};
