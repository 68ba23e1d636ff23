import { z } from "zod";
import { webAddress } from "../core/markets";

const terms = z.object({
  name: z.string(),
  picture: z.object({ minWidth: z.number(), minHeight: z.number(), maxBytes: z.number() }),
  maxRefundDays: z.number(),
  minRefundDays: z.number(),
  feeBp: z.number(),
});
const draft = z.object({ id: z.string(), test_order_url: webAddress });

export interface ListingUpload {
  reference: string;
  title: string;
  description: string;
  vendor: string;
  priceMinor: number;
  currency: string;
  refundDays: number;
  salesPage: string;
}

/** An affiliate marketplace that sells in its own name. */
export interface Marketplace {
  key: string;
  address: string;
  terms(): Promise<z.infer<typeof terms>>;
  /** Creates or renews the draft; repeating it with the same reference answers the same listing. */
  saveDraft(listing: ListingUpload): Promise<z.infer<typeof draft>>;
  submit(id: string, picture: Uint8Array): Promise<void>;
}

export class MarketplaceRefused extends Error {
  override name = "MarketplaceRefused";
}

const call = async (url: string, init: RequestInit = {}): Promise<unknown> => {
  let response: Response;
  try {
    response = await fetch(url, { ...init, signal: AbortSignal.timeout(15_000) });
  } catch (error) {
    throw new MarketplaceRefused(`The marketplace does not answer (${String(error)}). Nothing was changed; try again.`);
  }
  const body: unknown = await response.json().catch(() => ({}));
  if (response.ok) return body;
  const { error } = z.object({ error: z.string().default("it gave no reason") }).parse(body);
  throw new MarketplaceRefused(`The marketplace refused: ${error}`);
};

/** A marketplace over HTTP with JSON and a bearer key. */
export const httpMarketplace = (key: string, base: string, secretKey: string): Marketplace => {
  const headers = { authorization: `Bearer ${secretKey}`, "content-type": "application/json" };
  return {
    key,
    address: base,
    terms: async () => terms.parse(await call(`${base}/v1/terms`)),
    saveDraft: async (listing) => draft.parse(await call(`${base}/v1/listings`, { method: "POST", headers, body: JSON.stringify(listing) })),
    submit: async (id, picture) => {
      const body = JSON.stringify({ picture: Buffer.from(picture).toString("base64") });
      await call(`${base}/v1/listings/${encodeURIComponent(id)}/submit`, { method: "POST", headers, body });
    },
  };
};
