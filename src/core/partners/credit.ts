/** A visit through a partner's link, recorded on the server. */
export interface Touch {
  id: string;
  partnerId: string;
  partnerName: string;
  at: Date;
}

export type TouchRejection = "replaced_by_later" | "outside_window" | "after_order" | "own_purchase" | "outranked_by_coupon";

/** The coupon of an order that belongs to a partner. */
export interface OwnedCoupon {
  code: string;
  partnerId: string;
  partnerName: string;
}

/** Who earns the commission of an order, and why: kept with the order for good. */
export interface CreditExplanation {
  rule: "last_touch" | "coupon";
  windowDays: number;
  decidedAt: string;
  partnerId?: string;
  partnerName?: string;
  /** The partner's coupon that the order used; whoever buys with their own earns nothing by it. */
  coupon?: OwnedCoupon & { credited: boolean };
  touches: { id: string; partnerId: string; partnerName: string; at: string; credited: boolean; rejected?: TouchRejection }[];
}

/**
 * A coupon that a partner owns outranks links; else the last touch within `windowDays` before the order. A direct visit
 * is no touch and so never replaces one. A partner who buys for themself (`buyerPartnerId`) earns nothing.
 */
export const creditFor = (
  touches: Touch[],
  orderedAt: Date,
  windowDays: number,
  { buyerPartnerId, coupon }: { buyerPartnerId?: string; coupon?: OwnedCoupon } = {},
): CreditExplanation => {
  const from = orderedAt.getTime() - windowDays * 86_400_000;
  const ordered = [...touches].sort((a, b) => a.at.getTime() - b.at.getTime() || a.id.localeCompare(b.id));
  const rejection = (touch: Touch): TouchRejection | undefined => {
    if (touch.at > orderedAt) return "after_order";
    if (touch.at.getTime() < from) return "outside_window";
    return touch.partnerId === buyerPartnerId ? "own_purchase" : undefined;
  };
  const byCoupon = coupon && coupon.partnerId !== buyerPartnerId ? coupon : undefined;
  const last = ordered.findLast((touch) => rejection(touch) === undefined);
  const credited = byCoupon ? undefined : last;
  const earner = byCoupon ?? credited;
  return {
    rule: byCoupon ? "coupon" : "last_touch",
    windowDays,
    decidedAt: orderedAt.toISOString(),
    ...(earner ? { partnerId: earner.partnerId, partnerName: earner.partnerName } : {}),
    ...(coupon ? { coupon: { ...coupon, credited: byCoupon !== undefined } } : {}),
    touches: ordered.map((touch) => {
      const rejected = touch === credited ? undefined : (rejection(touch) ?? (touch === last ? "outranked_by_coupon" : "replaced_by_later"));
      const { id, partnerId, partnerName } = touch;
      return { id, partnerId, partnerName, at: touch.at.toISOString(), credited: touch === credited, ...(rejected ? { rejected } : {}) };
    }),
  };
};
