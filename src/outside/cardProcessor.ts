import { z } from "zod";

/** What the card processor answers to a charge. Amounts in minor units. */
export const chargeResult = z.object({
  id: z.string(),
  status: z.enum(["succeeded", "authorized", "voided", "declined", "challenge_required"]),
  idempotency_key: z.string(),
  amount: z.number().int(),
  currency: z.string(),
  fee: z.number().int().nonnegative().default(0),
  /** The stored card, for later charges in one click. */
  card: z.string().optional(),
  last4: z.string().optional(),
  /** The country of the bank that issued the card (ISO 3166-1). */
  card_country: z.string().length(2).optional(),
  decline_code: z.string().optional(),
  challenge_url: z.string().optional(),
});
export type ChargeResult = z.infer<typeof chargeResult>;

/** What it answers to a refund. */
export const refundResult = z.object({
  id: z.string(),
  charge: z.string(),
  status: z.enum(["succeeded", "failed"]),
  amount: z.number().int(),
  currency: z.string(),
});
export type RefundResult = z.infer<typeof refundResult>;

/** What it tells of a dispute. The amount and the fee are withdrawn when it is opened; the amount comes back where it is won. */
export const disputeResult = z.object({
  id: z.string(),
  charge: z.string(),
  status: z.enum(["open", "won", "lost"]),
  amount: z.number().int().positive(),
  currency: z.string(),
  fee: z.number().int().nonnegative(),
  reason: z.string(),
});
export type DisputeResult = z.infer<typeof disputeResult>;

export interface ChargeRequest {
  /** A one-time token of the card field, or a stored card. */
  card: string;
  /** Nothing only checks the card and keeps it for later charges. */
  amount: number;
  currency: string;
  description: string;
  returnUrl: string;
  /** Whether the money is taken at once, or only held on the card until it is captured. */
  capture: boolean;
}

/** A card processor, as far as Ink Bell needs one. Repeating a request with its key answers the first result again. */
export interface CardProcessor {
  /** Where the browser finds the card field's frame. */
  fieldUrl: string;
  charge(request: ChargeRequest, idempotencyKey: string): Promise<ChargeResult>;
  chargeById(id: string): Promise<ChargeResult>;
  /** Takes what a charge holds; answers that it is voided where the bank has let go of it meanwhile. */
  capture(chargeId: string, idempotencyKey: string): Promise<ChargeResult>;
  /** Lets go of what a charge holds. */
  voidCharge(chargeId: string, idempotencyKey: string): Promise<ChargeResult>;
  refund(request: { charge: string; amount: number }, idempotencyKey: string): Promise<RefundResult>;
}

/** Which account at which processor takes a payment. */
export interface CardAccounts {
  /** Where the frames of all card fields come from. */
  fieldUrls: string[];
  for(payment: { currency: string; test: boolean }): CardProcessor;
}

/** The processor did not answer, or answered something else than its contract says. */
export class ProcessorUnreachable extends Error {
  override name = "ProcessorUnreachable";
}

/** The processor will not take this card or token, whatever is asked: it is unknown, or was used. Nothing was charged. */
export class CardNotTaken extends Error {
  override name = "CardNotTaken";
}

const call = async <T>(url: string, init: RequestInit, answer: z.ZodType<T>): Promise<T> => {
  try {
    const response = await fetch(url, { ...init, signal: AbortSignal.timeout(15_000) });
    if (response.status === 400) throw new CardNotTaken("the card processor does not take this card");
    if (!response.ok) throw new ProcessorUnreachable(`the card processor answered ${response.status}`);
    return answer.parse(await response.json());
  } catch (error) {
    throw error instanceof ProcessorUnreachable || error instanceof CardNotTaken
      ? error
      : new ProcessorUnreachable(`the card processor did not answer: ${String(error)}`);
  }
};

/** The card processor over HTTP with JSON, a bearer key and an `Idempotency-Key` header. */
export const httpCardProcessor = (base: string, secretKey: string): CardProcessor => {
  const headers = { authorization: `Bearer ${secretKey}`, "content-type": "application/json" };
  const post = <T>(path: string, body: unknown, idempotencyKey: string, answer: z.ZodType<T>) =>
    call(`${base}${path}`, { method: "POST", headers: { ...headers, "idempotency-key": idempotencyKey }, body: JSON.stringify(body) }, answer);
  return {
    fieldUrl: `${base}/field`,
    charge: ({ returnUrl, ...request }, key) => post("/v1/charges", { ...request, return_url: returnUrl }, key, chargeResult),
    chargeById: (id) => call(`${base}/v1/charges/${encodeURIComponent(id)}`, { headers }, chargeResult),
    capture: (id, key) => post(`/v1/charges/${encodeURIComponent(id)}/capture`, {}, key, chargeResult),
    voidCharge: (id, key) => post(`/v1/charges/${encodeURIComponent(id)}/void`, {}, key, chargeResult),
    refund: (request, key) => post("/v1/refunds", request, key, refundResult),
  };
};

/** Accounts by currency and for trying out; the first holds where no other does. */
export const cardAccounts = (
  main: CardProcessor,
  test: CardProcessor,
  others: { currencies: string[]; processor: CardProcessor }[],
): CardAccounts => ({
  fieldUrls: [main, test, ...others.map(({ processor }) => processor)].map(({ fieldUrl }) => fieldUrl),
  for: ({ currency, test: tries }) => (tries ? test : (others.find(({ currencies }) => currencies.includes(currency))?.processor ?? main)),
});
