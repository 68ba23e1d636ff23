import { totalOf, type ChargeItem } from "../src/core/offers";
import type { PastPayment } from "../standins/card-desk/past";
import { seeded } from "./random";

/** The card of one buyer of the demo. */
export interface DemoCard {
  ref: string;
  last4: string;
  country: string;
}

/** The card payments of the demo, as the app's rows and as the card processor remembers them. */
export class Payments {
  // Its own numbers: what the crowd does stays the same whatever is told of its cards.
  readonly random = seeded(41);
  readonly notified: PastPayment[] = [];
  private id = (prefix: string) => `${prefix}_${this.random.uuid().replaceAll("-", "").slice(0, 24)}`;

  card(country: string): DemoCard {
    return { ref: this.id("card"), last4: "0003", country };
  }

  /** One charge; answers its row. */
  charge(
    of: { checkoutId: string; stepId?: string; coupon?: string; key: string; items: ChargeItem[]; card: DemoCard; at: Date },
    refused?: PastPayment["refused"],
  ): Record<string, unknown> & { id: string } {
    const { checkoutId, stepId, coupon, key, items, card, at } = of;
    const id = this.random.uuid();
    const amount = totalOf(items).gross;
    const processorId = this.id("ch");
    const known = { amount, currency: "EUR", at, idempotencyKey: key };
    this.notified.push({ ...known, id: processorId, card: card.ref, last4: card.last4, country: card.country, ...(refused ? { refused } : {}) });
    return {
      id,
      idempotency_key: key,
      checkout_id: checkoutId,
      step_id: stepId ?? null,
      state: refused ? "declined" : "succeeded",
      amount_minor: amount,
      currency: "EUR",
      items,
      card: "",
      return_url: "",
      capture_later: false,
      coupon: coupon ?? null,
      processor_id: processorId,
      decline_code: refused ?? null,
      created_at: at,
      settled_at: at,
    };
  }
}
