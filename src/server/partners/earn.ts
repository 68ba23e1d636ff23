import { randomUUID } from "node:crypto";
import { commissionPostings } from "../../core/money";
import { commissionOn, commissionRateAt, creditFor, partnerRatePlan, pendingUntil, type CreditExplanation } from "../../core/partners";
import type { Launch, Order, OrderLine, Partner } from "../../store/tables";
import type { CouponOwner } from "../../store/products/couponOwner";
import type { CreditedTouch } from "../../store/partners/touchesOfPerson";
import type { SaleRows } from "../../store/payments/writeSale";
import type { LaunchContext } from "../launch";
import { journalRows } from "../money";

/** Decides who earns an order's commission, from the touches of its person and the coupon it used. Who buys by their own link or code is among those who are asked. */
export const creditOf = (
  touches: readonly CreditedTouch[],
  { creditWindowDays }: Pick<Launch, "creditWindowDays">,
  at: Date,
  owner?: CouponOwner,
): CreditExplanation =>
  creditFor(
    touches.map((touch) => ({ ...touch, at: new Date(touch.at) })),
    at,
    creditWindowDays,
    {
      buyerPartnerId: [...touches, ...(owner ? [owner] : [])].find(({ own }) => own)?.partnerId,
      ...(owner ? { coupon: { code: owner.code, partnerId: owner.partnerId, partnerName: owner.partnerName } } : {}),
    },
  );

/** The partner whom a credit names, with their rate; null where it names nobody. */
export const earnerOf = (
  touches: readonly CreditedTouch[],
  { partnerId }: CreditExplanation,
  owner?: CouponOwner,
): Pick<Partner, "id" | "rateBp"> | null => {
  const found = partnerId && [...(owner ? [owner] : []), ...touches].find((one) => one.partnerId === partnerId);
  return found ? { id: found.partnerId, rateBp: found.rateBp } : null;
};

/** What a line earns the partner who is credited with its order, held until the refund window and a margin are over; nothing without one. */
export const commissionRows = (
  context: Pick<LaunchContext, "plan">,
  partner: Pick<Partner, "id" | "rateBp"> | null,
  order: Pick<Order, "id" | "placedAt" | "currency">,
  line: Pick<OrderLine, "id" | "netMinor" | "role">,
  refundDays: number,
  at: Date,
): SaleRows => {
  // Sending something is no sale: its price earns nobody anything.
  if (!partner || line.role === "shipping") return {};
  // An offer accepted later belongs to the day of its order: the click that earned it is the same.
  const { rule, rateBp } = commissionRateAt(partner.rateBp, context.plan.featured, order.placedAt);
  const minor = commissionOn(line.netMinor, rateBp);
  const id = randomUUID();
  const about = { orderId: order.id, lineId: line.id, commissionId: id };
  return {
    ...journalRows("commission", about, commissionPostings(partner.id, minor, order.currency), at),
    commission: [
      {
        id,
        line_id: line.id,
        partner_id: partner.id,
        level: 1,
        plan_id: partnerRatePlan.id,
        plan_version: partnerRatePlan.version,
        rule,
        base_minor: line.netMinor,
        rate_bp: rateBp,
        minor,
        currency: order.currency,
        pending_until: pendingUntil(at, refundDays),
      },
    ],
  };
};
