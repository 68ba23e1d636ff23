import { Charge, Checkout } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { CardNotTaken, ProcessorUnreachable, type CardProcessor, type ChargeResult } from "../../outside/cardProcessor";
import type { App } from "../app/app";
import { queue } from "../app/outbox";
import { found } from "../app/refusal";
import { signLink } from "../app/signedLink";
import { applyResult } from "./applyResult";

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
