/** A visit through a partner's link, recorded on the server. */
export interface Touch {
  id: string;
  partnerId: string;
  partnerName: string;
  at: Date;
}

export type TouchRejection = "replaced_by_later" | "outside_window" | "after_order" | "own_purchase";

/** Who earns the commission of an order, and why: kept with the order for good. */
export interface CreditExplanation {
  rule: "last_touch";
  windowDays: number;
  decidedAt: string;
  partnerId?: string;
  partnerName?: string;
  touches: { id: string; partnerId: string; partnerName: string; at: string; credited: boolean; rejected?: TouchRejection }[];
}

/**
 * Last touch within `windowDays` before the order. A direct visit is no touch and so never replaces one.
 * A partner who buys for themself (`buyerPartnerId`) earns nothing.
 */
export const lastTouchCredit = (touches: Touch[], orderedAt: Date, windowDays: number, buyerPartnerId?: string): CreditExplanation => {
  const from = orderedAt.getTime() - windowDays * 86_400_000;
  const ordered = [...touches].sort((a, b) => a.at.getTime() - b.at.getTime() || a.id.localeCompare(b.id));
  const rejection = (touch: Touch): TouchRejection | undefined => {
    if (touch.at > orderedAt) return "after_order";
    if (touch.at.getTime() < from) return "outside_window";
    return touch.partnerId === buyerPartnerId ? "own_purchase" : undefined;
  };
  const credited = ordered.findLast((touch) => rejection(touch) === undefined);
  return {
    rule: "last_touch",
    windowDays,
    decidedAt: orderedAt.toISOString(),
    ...(credited ? { partnerId: credited.partnerId, partnerName: credited.partnerName } : {}),
    touches: ordered.map((touch) => {
      const rejected = touch === credited ? undefined : (rejection(touch) ?? "replaced_by_later");
      const { id, partnerId, partnerName } = touch;
      return { id, partnerId, partnerName, at: touch.at.toISOString(), credited: touch === credited, ...(rejected ? { rejected } : {}) };
    }),
  };
};
