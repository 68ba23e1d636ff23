import { publicWords } from "../../words";
import { type Locale, usualLocale } from "../../money";
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

/** What a buyer is told when the card is refused, and what to do about it. A kind of refusal that is not known is told as the usual one. */
export const declineSentence = (code: string | undefined, locale: Locale = usualLocale): string => {
  const { declines } = publicWords(locale).checkout;
  return (declines as Readonly<Record<string, string | undefined>>)[code ?? ""] ?? declines.card_declined;
};
