import { createHmac, randomUUID } from "node:crypto";
import type { z } from "zod";

export interface Notice {
  id: string;
  body: string;
  tries: number;
  delivered: boolean;
}

/** The headers of a signed notice (Standard Webhooks): HMAC-SHA256 over `id.timestamp.body`, secret in base64 after `whsec_`. */
export const signedHeaders = (secret: string, id: string, timestamp: number, body: string): Record<string, string> => {
  const key = Buffer.from(secret.replace(/^whsec_/, ""), "base64");
  const signature = createHmac("sha256", key).update(`${id}.${timestamp}.${body}`).digest("base64");
  return { "webhook-id": id, "webhook-timestamp": String(timestamp), "webhook-signature": `v1,${signature}` };
};

/** Makes a notice of an event, with a message id of its own. */
export const makeNotice = (type: string, data: unknown): Notice => ({
  id: `msg_${randomUUID().replaceAll("-", "")}`,
  body: JSON.stringify({ type, timestamp: new Date().toISOString(), data }),
  tries: 0,
  delivered: false,
});

/** How notices are sent on: in order and once, or as networks also do it. */
export type Manner = "in order" | "twice" | "newest first" | "held back";

/** Delivers what is not delivered yet, again and again until the other end says 2xx. */
export const keepDelivering = (
  pending: () => Notice[],
  address: string,
  secret: string,
  saved: () => void,
  manner: () => Manner = () => "in order",
): void => {
  const round = async () => {
    const how = manner();
    const waiting = how === "held back" ? [] : pending().filter(({ delivered, tries }) => !delivered && tries < 200);
    for (const notice of how === "newest first" ? waiting.reverse() : waiting) {
      notice.tries += 1;
      const headers = { ...signedHeaders(secret, notice.id, Math.floor(Date.now() / 1000), notice.body), "content-type": "application/json" };
      const post = () =>
        fetch(address, { method: "POST", headers, body: notice.body, signal: AbortSignal.timeout(10_000) }).then(
          (r) => r.ok,
          () => false,
        );
      // Twice at once: a network that answered too late has sent it again.
      const ok = (await Promise.all(how === "twice" ? [post(), post()] : [post()])).some(Boolean);
      notice.delivered = ok;
      saved();
      if (!ok) break;
    }
    setTimeout(() => void round(), 500);
  };
  void round();
};

/** The body of a JSON request, checked; undefined where it does not fit. */
export const readJson = <T>(schema: z.ZodType<T>, body: string): T | undefined => {
  try {
    return schema.parse(JSON.parse(body));
  } catch {
    return undefined;
  }
};
