/** States of a charge at the card processor and the steps allowed between them; the database holds the same list. */
export const chargeSteps = {
  pending: ["challenge", "authorized", "succeeded", "declined"],
  challenge: ["authorized", "succeeded", "declined"],
  /** Held on the card: taken when the goods are sent, or let go. */
  authorized: ["succeeded", "voided"],
  succeeded: [],
  declined: [],
  voided: [],
} as const;
export type ChargeState = keyof typeof chargeSteps;
export const chargeStates = Object.keys(chargeSteps) as ChargeState[];

/** True where a charge may go from one state to the other. */
export const mayBecome = (from: ChargeState, to: ChargeState): boolean => (chargeSteps[from] as readonly ChargeState[]).includes(to);

/** States of what is charged again by itself: on its way, refused and tried again, all paid, or ended before that. */
export const recurringPaymentStates = ["active", "late", "done", "ended"] as const;
export type RecurringPaymentState = (typeof recurringPaymentStates)[number];
export const refundStates = ["pending", "succeeded", "failed"] as const;
export type RefundState = (typeof refundStates)[number];
export const disputeStates = ["open", "won", "lost"] as const;
export type DisputeState = (typeof disputeStates)[number];

/** What a buyer is told when the card is refused, and what to do about it. */
export const declineWords: Record<string, string> = {
  insufficient_funds: "Your bank says there is not enough on this card. Nothing was charged. Try another card, or this one later.",
  expired_card: "This card has expired. Nothing was charged. Use another card.",
  challenge_failed: "Your bank could not confirm that it was you. Nothing was charged. Try again, or use another card.",
  stolen_card: "Your bank refused this card. Nothing was charged. Ask your bank, or use another card.",
  card_not_taken: "The card could not be used. Nothing was charged. Type it in again, or use another card.",
  card_declined: "Your bank refused this card and does not say why. Nothing was charged. Try another card, or ask your bank.",
};
export const declineSentence = (code: string | undefined): string => declineWords[code ?? ""] ?? declineWords["card_declined"]!;
