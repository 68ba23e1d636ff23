import { commissionPostings } from "../../core/money";
import { commissionOn, commissionRateAt, heldUntil, lastTouchCredit, type CreditExplanation } from "../../core/partners";
import type { Contact } from "../../store/entities";
import { Partner, type Launch, type Order, type OrderLine } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { loadBundle } from "../launch/bundle";
import { book } from "../money/book";

interface TouchRow {
  id: string;
  partner_id: string;
  name: string;
  at: Date | string;
}

/** Decides who earns an order's commission, from the touches of its person. */
export const decideCredit = async (em: EntityManager, launch: Launch, personId: string, contact: Contact, at: Date): Promise<CreditExplanation> => {
  const rows = await em.execute<TouchRow[]>(
    "select t.id, t.partner_id, p.name, t.at from touch t join partner p on p.id = t.partner_id where t.person_id = ? and t.launch_id = ?",
    [personId, launch.id],
  );
  const self = await em.findOne(Partner, { email: contact.email });
  const touches = rows.map((row) => ({ id: row.id, partnerId: row.partner_id, partnerName: row.name, at: new Date(row.at) }));
  return lastTouchCredit(touches, at, launch.creditWindowDays, self?.id);
};

/** Books the commission of a line for the partner credited with its order, held until the refund window and a margin are over. */
export const earnCommission = async (em: EntityManager, order: Order, line: OrderLine, refundDays: number, at: Date): Promise<void> => {
  if (!order.partnerId) return;
  const partner = await em.findOneOrFail(Partner, { id: order.partnerId });
  // An offer accepted later belongs to the day of its order: the click that earned it is the same.
  const rateBp = commissionRateAt(partner.rateBp, (await loadBundle(em, { id: order.launchId }))!.plan.featured, order.placedAt);
  const minor = commissionOn(line.netMinor, rateBp);
  await em.execute("insert into commission (line_id, partner_id, base_minor, rate_bp, minor, currency, held_until) values (?, ?, ?, ?, ?, ?, ?)", [
    line.id,
    partner.id,
    line.netMinor,
    rateBp,
    minor,
    order.currency,
    heldUntil(at, refundDays),
  ]);
  await book(em, "commission", { orderId: order.id, lineId: line.id }, commissionPostings(partner.id, minor, order.currency), at);
};
