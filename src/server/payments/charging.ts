import { insertCharge, type NewCharge, type SaidAtPay } from "../../store/payments/beginCharge";
import { Charge, Checkout } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { chargeFacts, type ChargeFacts } from "../../store/payments/chargeFacts";
import { CardNotTaken, ProcessorUnreachable, type CardProcessor, type ChargeResult } from "../../outside/cardProcessor";
import { type App, required, signLink, workRow } from "../platform";
import { applyResult } from "./applyResult";

/** Where the bank's question sends the browser back to: a signed link to the charge, for as long as a question may take. */
export const returnUrlOf = (app: App, slug: string, chargeId: string, now: Date): string =>
  `${app.config.origin}/l/${slug}/charge?c=${signLink(app.config.INKBELL_SECRET, "charge", chargeId, now, 2)}`;

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

/**
 * Asks the processor for a pending charge and applies the answer. Unreachable: the charge stays pending and the worker asks again.
 * `known` are facts of a charge that was just begun and committed.
 */
export const chargeNow = async (app: App, chargeId: string, known?: ChargeFacts): Promise<Charge> => {
  const facts = known ?? required(await chargeFacts(app.fork(), chargeId), "charge");
  const { charge, checkout } = facts;
  if (charge.state !== "pending") return charge;
  const made = (change: Pick<ChargeResult, "status" | "decline_code">) => applyResult(app, chargeId, madeHere(charge, change), facts);
  if (charge.card === noCard) return made({ status: "succeeded" });
  const { card, amountMinor: amount, currency, returnUrl } = charge;
  try {
    const processor = app.cards.for({ currency, test: checkout.test });
    const result = await processor.charge(
      { card, amount, currency, description: `charge ${charge.id}`, returnUrl, capture: !charge.captureLater },
      charge.idempotencyKey,
    );
    return await applyResult(app, chargeId, result, facts);
  } catch (error) {
    // Left pending it would never end, and no other card could be tried.
    if (error instanceof CardNotTaken) return made({ status: "declined", decline_code: "card_not_taken" });
    if (!(error instanceof ProcessorUnreachable)) throw error;
    app.log.error({ charge: chargeId, error: error.message }, "the charge is not settled yet");
    return charge;
  }
};

/** Writes a charge down before anybody is asked, with what its buyer said, and has the worker look after it should this process die. */
export const beginCharge = (tx: EntityManager, charge: NewCharge, now: Date, said?: SaidAtPay): Promise<Charge> => {
  const { id } = charge;
  return insertCharge(tx, charge, workRow("settle_charge", { id }, new Date(now.getTime() + 20_000), `settle:${id}`), now, said);
};

/** Brings a charge to its end where a request could not: a crash, a closed browser, an unanswered call. Throws to be tried again. */
export const settleCharge = async (app: App, chargeId: string): Promise<void> => {
  const charge = await app.fork().findOne(Charge, { id: chargeId });
  if (charge?.state !== "pending" && charge?.state !== "challenge") return;
  if (charge.state === "challenge") return void (await refreshCharge(app, chargeId));
  const after = await chargeNow(app, chargeId);
  if (after.state === "pending") throw new Error("the card processor has not answered yet");
};

/** Asks the processor how a charge stands after a challenge, and applies the answer. */
export const refreshCharge = async (app: App, chargeId: string): Promise<Charge> => {
  const charge = required(await app.fork().findOne(Charge, { id: chargeId }), "charge");
  if (charge.state !== "challenge" || !charge.processorId) return chargeNow(app, chargeId);
  return applyResult(app, chargeId, await (await processorOf(app, charge)).chargeById(charge.processorId));
};
