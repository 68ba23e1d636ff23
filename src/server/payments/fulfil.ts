import { LockMode } from "@mikro-orm/core";
import { askForCapture } from "../../store/payments/askForCapture";
import { Charge, Order, Refund, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { ProcessorUnreachable } from "../../outside/cardProcessor";
import { type App, mustBeAllowed, queue, Refusal, required } from "../platform";
import { applyResult } from "./applyResult";
import { processorOf } from "./charging";

/** The charges of an order that are only held on its card. */
export const authorizedCharges = (em: EntityManager, { checkoutId }: Pick<Order, "checkoutId">): Promise<Charge[]> =>
  checkoutId ? em.find(Charge, { checkoutId, state: "authorized" }, { orderBy: { createdAt: 1 } }) : Promise.resolve([]);

/** Takes what a charge holds. Taken already, or let go of, it stays as it is. */
const captureNow = async (app: App, chargeId: string): Promise<Charge> => {
  const charge = required(await app.fork().findOne(Charge, { id: chargeId }), "charge");
  if (charge.state !== "authorized") return charge;
  try {
    return await applyResult(app, chargeId, await (await processorOf(app, charge)).capture(charge.processorId!, `capture:${chargeId}`));
  } catch (error) {
    if (!(error instanceof ProcessorUnreachable)) throw error;
    app.log.error({ charge: chargeId, error: error.message }, "what the card holds is not taken yet");
    return charge;
  }
};

/** Takes what a charge holds, where the processor did not answer the desk. Throws to be tried again. */
export const capturePayment = async (app: App, chargeId: string): Promise<void> => {
  if ((await captureNow(app, chargeId)).state === "authorized") throw new Error("the card processor has not answered yet");
};

/**
 * Takes all that an order's card holds, for its goods go out now. Pressed twice it is taken once; where the processor does
 * not answer, the worker asks again. Answers how many of the payments are taken; a bank may have let go of one.
 */
export const captureAndFulfil = async (app: App, em: EntityManager, user: DeskUser, orderId: string): Promise<{ taken: number; of: number }> => {
  mustBeAllowed(user, "order.capture");
  const now = app.clock.now();
  const charges = await em.transactional(async (tx) => {
    await askForCapture(tx, orderId, now);
    const charges = await authorizedCharges(
      tx,
      required(await tx.findOne(Order, { id: orderId }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "order"),
    );
    if (charges.length === 0) throw new Refusal({ code: "nothing_authorized" });
    const going = await tx.count(Refund, { chargeId: { $in: charges.map(({ id }) => id) }, state: "pending" });
    if (going > 0) throw new Refusal({ code: "being_voided" });
    for (const { id } of charges) await queue(tx, "capture_payment", { id }, new Date(now.getTime() + 20_000), `take:${id}`);
    return charges.map(({ id }) => id);
  });
  const after: Charge[] = [];
  for (const id of charges) after.push(await captureNow(app, id));
  return { taken: after.filter(({ state }) => state === "succeeded").length, of: charges.length };
};
