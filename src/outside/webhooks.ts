import { request as requestHttp } from "node:http";
import { request as requestHttps } from "node:https";
import { useAgent } from "request-filtering-agent";
import { Webhook } from "standardwebhooks";

/** What came of sending a message: a status of HTTP, or none, with why. */
export interface Sent {
  status: number | null;
  retryAfterMs?: number;
  /** The beginning of what was answered, or why nothing was. */
  says: string;
}

export interface Message {
  url: string;
  /** `msg_…`: the same over all tries. */
  id: string;
  body: string;
  /** Each signs it: more than one while a secret is being changed. */
  secrets: readonly string[];
}

const longestAnswer = 500;
const patienceMs = 15_000;

// The library names its refusals by their words alone.
const isPrivate = (error: Error): boolean => /is not allowed\. Because/.test(error.message);

const why = (error: Error & { code?: string }): string => {
  if (isPrivate(error)) return "its address is a private one, which this installation does not send to";
  if (error.name === "AbortError" || error.name === "TimeoutError") return `no answer within ${patienceMs / 1_000} seconds`;
  return error.code ?? error.message.slice(0, 200);
};

const retryAfter = (header: string | undefined, now: number): number | undefined => {
  if (header === undefined) return undefined;
  const ms = /^\d+$/.test(header.trim()) ? Number(header) * 1_000 : Date.parse(header) - now;
  return Number.isFinite(ms) && ms > 0 ? ms : undefined;
};

/**
 * Sends a message as the Standard Webhooks specification has it, signed by each secret. Redirects are not followed, and no connection is made to a private
 * address but those that are allowed, whatever a name resolves to at that moment. Never throws.
 */
export const sendWebhook = ({ url, id, body, secrets }: Message, allowed: readonly string[]): Promise<Sent> =>
  new Promise((done) => {
    const at = new Date();
    const headers = {
      "content-type": "application/json",
      "content-length": Buffer.byteLength(body),
      "user-agent": "InkBell-Webhooks",
      "webhook-id": id,
      "webhook-timestamp": String(Math.floor(at.getTime() / 1_000)),
      "webhook-signature": secrets.map((secret) => new Webhook(secret).sign(id, at, body)).join(" "),
    };
    const failed = (error: Error) => done({ status: null, says: why(error) });
    try {
      const agent = useAgent(url, { allowIPAddressList: [...allowed] });
      const signal = AbortSignal.timeout(patienceMs);
      const send = url.startsWith("https:") ? requestHttps : requestHttp;
      const call = send(url, { method: "POST", headers, agent, signal }, (answer) => {
        let says = "";
        const answered = () => {
          const retryAfterMs = retryAfter(answer.headers["retry-after"], at.getTime());
          const base = { status: answer.statusCode!, says: says.slice(0, longestAnswer) };
          done(retryAfterMs === undefined ? base : { ...base, retryAfterMs });
          answer.destroy();
        };
        answer.setEncoding("utf8");
        answer.on("data", (part: string) => {
          says += part;
          // What comes behind is of no interest, and may have no end.
          if (says.length >= longestAnswer) answered();
        });
        answer.on("end", answered);
        answer.on("error", answered);
      });
      call.on("error", failed);
      call.end(body);
    } catch (error) {
      failed(error instanceof Error ? error : new Error(String(error)));
    }
  });
