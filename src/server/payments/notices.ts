import { z } from "zod";
import { chargeResult, disputeResult } from "../../outside/cardProcessor";
import { Charge } from "../../store/tables";
import type { App } from "../platform";
import { applyResult } from "./applyResult";
import { applyDispute } from "./refunds";

const notice = z.union([
  z.object({ type: z.enum(["charge.succeeded", "charge.authorized", "charge.voided", "charge.declined"]), data: chargeResult }),
  z.object({ type: z.enum(["dispute.opened", "dispute.closed"]), data: disputeResult }),
]);

/** Applies a verified notice of the card processor. Answers what came of it, for the record. */
export const applyCardNotice = async (app: App, body: unknown): Promise<string> => {
  const read = notice.safeParse(body);
  if (!read.success) return "not understood";
  const { data } = read.data;
  if (!("idempotency_key" in data)) return applyDispute(app, data);
  const charge = await app.fork().findOne(Charge, { idempotencyKey: data.idempotency_key });
  if (!charge) return "no such charge";
  if (data.amount !== charge.amountMinor || data.currency !== charge.currency) return "amount differs, not applied";
  const before = charge.state;
  const { state } = await applyResult(app, charge.id, data);
  return state === before ? `changed nothing: the charge is ${state}` : "applied";
};
