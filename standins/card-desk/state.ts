import type { TestCard } from "../shared/cards";
import { fixedFee } from "../shared/money";
import type { Manner, Notice } from "../shared/notices";

export interface Card {
  country: string;
  outcome: TestCard["outcome"];
  last4: string;
  /** A token pays once; a stored card again and again. */
  token?: { usedBy?: string };
}
export interface Charge {
  id: string;
  status: "succeeded" | "authorized" | "voided" | "declined" | "challenge_required";
  /** Whether it is taken at once, or held until it is captured. */
  capture: boolean;
  idempotency_key: string;
  amount: number;
  currency: string;
  fee: number;
  card?: string;
  last4: string;
  card_country: string;
  decline_code?: string;
  challenge_url?: string;
  return_url: string;
  outcome: TestCard["outcome"];
  made: string;
  /** Made with the key for trying out: no money would move. */
  test: boolean;
}
export interface Refund {
  id: string;
  charge: string;
  idempotency_key: string;
  status: "succeeded" | "failed";
  amount: number;
  currency: string;
  made: string;
}
export interface Dispute {
  id: string;
  charge: string;
  status: "open" | "won" | "lost";
  amount: number;
  currency: string;
  fee: number;
  reason: string;
}
/** How it behaves: as it should, slowly, not at all, or with answers that get lost on the way back. */
export const moods = ["well", "slow", "down", "deaf"] as const;
export interface State {
  cards: Record<string, Card>;
  charges: Charge[];
  refunds: Refund[];
  disputes: Dispute[];
  notices: Notice[];
  mood: (typeof moods)[number];
  manner: Manner;
}
export const empty: State = { cards: {}, charges: [], refunds: [], disputes: [], notices: [], mood: "well", manner: "in order" };
/** Common practice: 1.5 % and a fixed amount of the currency of what is taken, and nothing where nothing is. */
export const feeOf = (amount: number, currency: string): number =>
  amount === 0 ? 0 : Math.min(amount, Math.round(amount * 0.015) + fixedFee(currency));
