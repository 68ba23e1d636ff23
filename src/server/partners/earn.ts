import { commissionPostings } from "../../core/money";
import { commissionOn, commissionRateAt, heldUntil, lastTouchCredit, type CreditExplanation } from "../../core/partners";
import type { Contact, Launch, Order, OrderLine, Partner } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { SaleRows } from "../../store/statements/insertSale";
import type { LaunchBundle } from "../launch/bundle";
import { journalRows } from "../money/book";

interface TouchRow {
  id: string;
  partner_id: string;
  name: string;
  at: Date | string;
  own: boolean;
}

/** Decides who earns an order's commission, from the touches of its person. */
export const decideCredit = async (em: EntityManager, launch: Launch, personId: string, contact: Contact, at: Date): Promise<CreditExplanation> => {
  const rows = await em.execute<TouchRow[]>(
    `select t.id, t.partner_id, p.name, t.at, p.email = ? as own from touch t join partner p on p.id = t.partner_id where t.person_id = ? and t.launch_id = ?`,
    [contact.email, personId, launch.id],
  );
  const touches = rows.map((row) => ({ id: row.id, partnerId: row.partner_id, partnerName: row.name, at: new Date(row.at) }));
  // Who buys by their own link is among those whose touches there are.
  return lastTouchCredit(touches, at, launch.creditWindowDays, rows.find(({ own }) => own)?.partner_id);
};

/** What a line earns the partner who is credited with its order, held until the refund window and a margin are over; nothing without one. */
export const commissionRows = (
  bundle: Pick<LaunchBundle, "plan">,
  partner: Pick<Partner, "id" | "rateBp"> | null,
  order: Pick<Order, "id" | "placedAt" | "currency">,
  line: Pick<OrderLine, "id" | "netMinor" | "role">,
  refundDays: number,
  at: Date,
): SaleRows => {
  // Sending something is no sale: its price earns nobody anything.
  if (!partner || line.role === "shipping") return {};
  // An offer accepted later belongs to the day of its order: the click that earned it is the same.
  const rateBp = commissionRateAt(partner.rateBp, bundle.plan.featured, order.placedAt);
  const minor = commissionOn(line.netMinor, rateBp);
  const row = { line_id: line.id, partner_id: partner.id, base_minor: line.netMinor, rate_bp: rateBp, minor, currency: order.currency };
  return {
    ...journalRows("commission", { orderId: order.id, lineId: line.id }, commissionPostings(partner.id, minor, order.currency), at),
    commission: [{ ...row, held_until: heldUntil(at, refundDays) }],
  };
};
