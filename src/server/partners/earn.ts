import { commissionPostings } from "../../core/money";
import { commissionOn, commissionRateAt, heldUntil, lastTouchCredit, type CreditExplanation } from "../../core/partners";
import type { Launch, Order, OrderLine, Partner } from "../../store/entities";
import type { CreditedTouch } from "../../store/reports/touchesOfPerson";
import type { SaleRows } from "../../store/statements/writeSale";
import type { LaunchBundle } from "../launch/bundle";
import { journalRows } from "../money/book";

/** Decides who earns an order's commission, from the touches of its person. Who buys by their own link is among those whose touches there are. */
export const creditOf = (touches: readonly CreditedTouch[], { creditWindowDays }: Pick<Launch, "creditWindowDays">, at: Date): CreditExplanation =>
  lastTouchCredit(
    touches.map((touch) => ({ ...touch, at: new Date(touch.at) })),
    at,
    creditWindowDays,
    touches.find(({ own }) => own)?.partnerId,
  );

/** The partner whom a credit names, with their rate; null where it names nobody. */
export const earnerOf = (touches: readonly CreditedTouch[], { partnerId }: CreditExplanation): Pick<Partner, "id" | "rateBp"> | null => {
  const touch = partnerId && touches.find((one) => one.partnerId === partnerId);
  return touch ? { id: touch.partnerId, rateBp: touch.rateBp } : null;
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
