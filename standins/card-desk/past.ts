import { Store } from "../shared/store";
import { empty, feeOf, type State } from "./state";

/** A payment that was taken, or refused, before this desk was first started. */
export interface PastPayment {
  id: string;
  idempotencyKey: string;
  amount: number;
  currency: string;
  /** The stored card that came of it. */
  card: string;
  last4: string;
  country: string;
  at: Date;
  /** Why it was refused, if it was. */
  refused?: "insufficient_funds" | "expired_card";
}

/** Lets a desk that is not running remember payments, in place of all it remembered. */
export const rememberPayments = (file: string, payments: PastPayment[]): void => {
  const store = new Store<State>(file, empty);
  const charges = payments.map(({ id, idempotencyKey, amount, currency, card, last4, country, at, refused }): State["charges"][number] => ({
    id,
    status: refused ? "declined" : "succeeded",
    capture: true,
    idempotency_key: idempotencyKey,
    amount,
    currency,
    last4,
    fee: refused ? 0 : feeOf(amount, currency),
    card_country: country,
    return_url: "",
    outcome: refused ?? "succeeds",
    made: at.toISOString(),
    ...(refused ? { decline_code: refused } : { card }),
    test: false,
  }));
  const cards = payments
    .filter(({ refused }) => !refused)
    .map(({ card, last4, country }) => [card, { outcome: "succeeds", last4, country }] as const);
  Object.assign(store.state, empty, { charges, cards: Object.fromEntries(cards) });
  store.save();
};
