import { type Fault } from "../../core/words";
import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/orders";
import { postingsAbout } from "../../store/money/postingsAbout";
import { randomUUID } from "node:crypto";
import { LockMode } from "@mikro-orm/core";
import { disputePostings, disputeWonPostings, refundPostings, split, type Locale, type Posting } from "../../core/money";
import { disputeItems, refundItems, spreadRefund, type RefundableLine, type RefundItem } from "../../core/offers";
import { CardNotTaken, ProcessorUnreachable, type DisputeResult, type RefundResult } from "../../outside/cardProcessor";
import { Charge, Dispute, Order, Refund, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mergeRows, writeSale, type SaleRows } from "../../store/payments/writeSale";
import { type App, Refusal, mustBeAllowed, queue, required, typedAmount, wrongField } from "../platform";
import { journalRows } from "../money";
import { processorOf } from "./charging";
import { applyResult } from "./applyResult";
import { leftOf, refundableLines } from "./refundable";
import { disputeWon, refunded, type Refunded } from "./refunded";

const groupedBy = <T>(rows: readonly T[], key: (row: T) => string): Map<string, T[]> => {
  const groups = new Map<string, T[]>();
  for (const row of rows) groups.set(key(row), [...(groups.get(key(row)) ?? []), row]);
  return groups;
};

/** The amounts that were typed, in minor units by line. */
const askedOf = (
  { lines: typed, amount }: BodyOf<typeof contract.refundOrder>,
  lines: readonly RefundableLine[],
  currency: string,
  locale: Locale,
): Record<string, number> => {
  const wrong = (field: string, fault: Fault) => wrongField("nothing_refunded", field, fault);
  const read = (field: string, text: string): number => typedAmount(text, currency, locale, (fault) => wrong(field, fault));
  const left = lines.reduce((sum, { gross, refunded }) => sum + gross - refunded.gross, 0);
  if (amount.trim() !== "") {
    const spread = spreadRefund(lines, read("amount", amount));
    if (!spread) throw wrong("amount", { code: "more_than_left", left, currency });
    return spread;
  }
  return Object.fromEntries(Object.entries(typed).map(([id, text]) => [id, text.trim() === "" ? 0 : read(`lines.${id}`, text)]));
};

/**
 * Gives money back for an order, by line or as a sum over all lines. Pressed twice it is given back once. One refund for each charge that was paid; the
 * processor is asked after they are written down, and the worker asks again where it does not answer.
 */
export const refundOrder = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  orderId: string,
  request: BodyOf<typeof contract.refundOrder>,
): Promise<{ refunds: { id: string; state: Refund["state"]; minor: number }[] }> => {
  mustBeAllowed(user, "order.refund");
  const now = app.clock.now();
  const made = await em.transactional(async (tx) => {
    const order = required(await tx.findOne(Order, { id: orderId }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "order");
    const before = await tx.find(Refund, { orderId, act: request.act });
    if (before.length > 0) return before.map(({ id }) => id);
    if (order.source === "hand") throw new Refusal({ code: "paid_by_hand" });
    if (order.source !== "own") throw new Refusal({ code: "sold_elsewhere" });
    const lines = await refundableLines(tx, orderId);
    const items = refundItems(lines, askedOf(request, lines, order.currency, app.vendor.locale));
    if (!Array.isArray(items)) {
      if (items.code === "nothing_asked") throw wrongField("nothing_refunded", "amount", { code: "refund_missing" });
      throw wrongField("nothing_refunded", `lines.${items.lineId}`, { code: "more_than_left", left: items.left, currency: order.currency });
    }
    if (items.some(({ lineId }) => !lines.find(({ id }) => id === lineId)!.chargeId)) throw new Refusal({ code: "no_payment" });
    const byCharge = groupedBy(items, ({ lineId }) => lines.find(({ id }) => id === lineId)!.chargeId!);
    const ids: string[] = [];
    for (const [chargeId, parts] of byCharge) {
      const id = randomUUID();
      ids.push(id);
      const amountMinor = parts.reduce((sum, { gross }) => sum + gross, 0);
      const { state } = await tx.findOneOrFail(Charge, { id: chargeId });
      const all = leftOf(lines, chargeId).reduce((sum, { gross }) => sum + gross, 0);
      // What is only held can be let go of, but not in part.
      if (state === "authorized" && amountMinor !== all) throw new Refusal({ code: "only_authorized", minor: all, currency: order.currency });
      const row = { id, orderId, chargeId, act: request.act, amountMinor, currency: order.currency, items: parts, reason: request.reason };
      tx.persist(tx.create(Refund, { ...row, state: "pending", askedAt: now, askedBy: user.id }));
      await tx.flush();
      await queue(tx, "settle_refund", { id }, new Date(now.getTime() + 20_000), `refund:${id}`);
    }
    return ids;
  });
  const refunds: Awaited<ReturnType<typeof refundOrder>>["refunds"] = [];
  for (const id of made) {
    const { state, amountMinor } = await askForRefund(app, id);
    refunds.push({ id, state, minor: amountMinor });
  }
  return { refunds };
};

const askForRefund = async (app: App, id: string): Promise<Refund> => {
  const em = app.fork();
  const refund = required(await em.findOne(Refund, { id }), "refund");
  if (refund.state !== "pending") return refund;
  const charge = await em.findOneOrFail(Charge, { id: refund.chargeId });
  try {
    const processor = await processorOf(app, charge);
    if (charge.state === "authorized") {
      await applyResult(app, charge.id, await processor.voidCharge(charge.processorId!, `void:${charge.id}`));
      return await app.fork().findOneOrFail(Refund, { id });
    }
    return await applyRefund(app, id, await processor.refund({ charge: charge.processorId!, amount: refund.amountMinor }, `refund:${id}`));
  } catch (error) {
    if (error instanceof CardNotTaken) return applyRefund(app, id, undefined);
    if (!(error instanceof ProcessorUnreachable)) throw error;
    app.log.error({ refund: id, error: error.message }, "the refund is not settled yet");
    return refund;
  }
};

/** Asks again for a refund that was not settled. Throws to be tried again. */
export const settleRefund = async (app: App, id: string): Promise<void> => {
  if ((await askForRefund(app, id)).state === "pending") throw new Error("the card processor has not answered yet");
};

/** Writes down what the processor said of a refund, once: its journals, and what other rooms do about it. */
const applyRefund = (app: App, id: string, result: RefundResult | undefined): Promise<Refund> =>
  app.fork().transactional(async (em) => {
    const refund = await em.findOneOrFail(Refund, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (refund.state !== "pending") return refund;
    if (result && (result.amount !== refund.amountMinor || result.currency !== refund.currency))
      throw new Error(`The processor's refund ${result.id} does not match refund ${id}; nothing was booked.`);
    const now = app.clock.now();
    const state = result?.status ?? "failed";
    Object.assign(refund, { state, processorId: result?.id ?? null, settledAt: now });
    await em.flush();
    if (state !== "succeeded") return refund;
    const order = await em.findOneOrFail(Order, { id: refund.orderId });
    const { items, amountMinor, currency } = refund;
    if (!order.test) await bookReturn(em, { orderId: order.id, aboutId: id }, "refund", items, currency, now, refundPostings);
    await tellRefunded(em, { by: "refund", id, order, items, amountMinor, currency, now });
    return refund;
  });

/** Books what goes out again for lines of an order. */
const bookReturn = async (
  em: EntityManager,
  about: { orderId: string; aboutId: string },
  kind: "refund" | "dispute",
  items: readonly RefundItem[],
  currency: string,
  now: Date,
  postings: (part: { net: number; tax: number; currency: string }, index: number) => Posting[],
): Promise<void> => {
  const parts = items.map(({ lineId, gross, tax }, index) =>
    journalRows(kind, { ...about, lineId }, postings({ net: gross - tax, tax, currency }, index), now),
  );
  await writeSale(em, mergeRows(...parts));
};

/** Has all rooms react to money that went back, in the transaction that is under way. */
const tellRefunded = async (em: EntityManager, what: Omit<Refunded, "lines">): Promise<void> => {
  const { rows, then } = refunded.reactionTo({ ...what, lines: await refundableLines(em, what.order.id, true) });
  await writeSale(em, rows);
  await then?.(em);
};

/** Applies what the processor told of a dispute; told twice or late it counts once. Answers what came of it, for the record. */
export const applyDispute = (app: App, result: DisputeResult): Promise<string> =>
  app.fork().transactional(async (em) => {
    const charge = await em.findOne(Charge, { processorId: result.charge }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    const order = charge && (await em.findOne(Order, { checkoutId: charge.checkoutId }));
    if (!charge || !order) return "no such charge";
    if (result.currency !== charge.currency || result.amount > charge.amountMinor) return "amount differs, not applied";
    const now = app.clock.now();
    let dispute = await em.findOne(Dispute, { processorId: result.id });
    if (!dispute) {
      // The end may be told before the beginning: then both are booked, in order.
      const own = (await refundableLines(em, order.id)).filter(({ chargeId }) => chargeId === charge.id);
      const { items, beyond } = disputeItems(own, result.amount);
      dispute = em.create(Dispute, {
        id: randomUUID(),
        orderId: order.id,
        chargeId: charge.id,
        processorId: result.id,
        amountMinor: result.amount,
        feeMinor: result.fee,
        currency: result.currency,
        reason: result.reason,
        state: "open",
        openedAt: now,
        closedAt: null,
        items,
      });
      await em.persist(dispute).flush();
      // What is reclaimed beyond the lines, and the fee where nothing was left of them, stand with the first.
      const booked = items.length > 0 ? items : own.slice(0, 1).map(({ id }) => ({ lineId: id, gross: 0, tax: 0 }));
      if (!order.test && booked.length > 0) {
        const fees = split(
          result.fee,
          booked.map(({ gross }) => gross || 1),
        );
        await bookReturn(em, { orderId: order.id, aboutId: dispute.id }, "dispute", booked, result.currency, now, (part, index) =>
          disputePostings({ ...part, net: part.net + (index === 0 ? beyond : 0), fee: fees[index]! }),
        );
        await tellRefunded(em, { by: "dispute", id: dispute.id, order, items: booked, amountMinor: result.amount, currency: result.currency, now });
      }
    }
    if (result.status === "open" || dispute.state !== "open") return dispute.closedAt ? "closed already" : "open";
    Object.assign(dispute, { state: result.status, closedAt: now });
    await em.flush();
    if (result.status === "won" && !order.test) await bookWon(em, dispute, now);
    return result.status;
  });

/** What a dispute had taken back stands again. */
const bookWon = async (em: EntityManager, { id, orderId, currency }: Dispute, now: Date): Promise<void> => {
  const parts: SaleRows[] = [];
  for (const [lineId, of] of groupedBy(await postingsAbout(em, id), (row) => row.lineId)) {
    const sum = (account: string) => of.filter((row) => row.kind === "dispute" && row.account === account).reduce((all, row) => all + row.minor, 0);
    const won = disputeWonPostings({ net: sum("disputes"), tax: sum("tax_payable"), currency });
    parts.push(journalRows("dispute_won", { orderId, lineId, aboutId: id }, won, now));
  }
  const { rows, then } = disputeWon.reactionTo({ id, orderId, currency, now });
  await writeSale(em, mergeRows(...parts, rows));
  await then?.(em);
};
