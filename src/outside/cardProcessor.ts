import { z } from "zod";

/** What the card processor answers to a charge. Amounts in minor units. */
export const chargeResult = z.object({
  id: z.string(),
  status: z.enum(["succeeded", "declined", "challenge_required"]),
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

export interface ChargeRequest {
  /** A one-time token of the card field, or a stored card. */
  card: string;
  amount: number;
  currency: string;
  description: string;
  returnUrl: string;
}

/** A card processor, as far as Ink Bell needs one. Repeating a charge with its key answers the first result again. */
export interface CardProcessor {
  /** Where the browser finds the card field's frame. */
  fieldUrl: string;
  charge(request: ChargeRequest, idempotencyKey: string): Promise<ChargeResult>;
  chargeById(id: string): Promise<ChargeResult>;
}

/** The processor did not answer, or answered something else than its contract says. */
export class ProcessorUnreachable extends Error {
  override name = "ProcessorUnreachable";
}

/** The processor will not take this card or token, whatever is asked: it is unknown, or was used. Nothing was charged. */
export class CardNotTaken extends Error {
  override name = "CardNotTaken";
}

const call = async (url: string, init: RequestInit): Promise<ChargeResult> => {
  try {
    const response = await fetch(url, { ...init, signal: AbortSignal.timeout(15_000) });
    if (response.status === 400) throw new CardNotTaken("the card processor does not take this card");
    if (!response.ok) throw new ProcessorUnreachable(`the card processor answered ${response.status}`);
    return chargeResult.parse(await response.json());
  } catch (error) {
    throw error instanceof ProcessorUnreachable || error instanceof CardNotTaken
      ? error
      : new ProcessorUnreachable(`the card processor did not answer: ${String(error)}`);
  }
};

/** The card processor over HTTP with JSON, a bearer key and an `Idempotency-Key` header. */
export const httpCardProcessor = (base: string, secretKey: string): CardProcessor => {
  const headers = { authorization: `Bearer ${secretKey}`, "content-type": "application/json" };
  return {
    fieldUrl: `${base}/field`,
    charge: ({ returnUrl, ...request }, idempotencyKey) =>
      call(`${base}/v1/charges`, {
        method: "POST",
        headers: { ...headers, "idempotency-key": idempotencyKey },
        body: JSON.stringify({ ...request, return_url: returnUrl }),
      }),
    chargeById: (id) => call(`${base}/v1/charges/${encodeURIComponent(id)}`, { headers }),
  };
};
