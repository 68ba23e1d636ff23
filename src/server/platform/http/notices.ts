import { Notice } from "../../../store/tables";
import { keepNotice } from "../../../store/platform/keepNotice";
import { Webhook } from "standardwebhooks";
import type { App } from "../app";
import { Refusal } from "../refusal";

type Verified = { content: unknown } | { refused: "stale" | "wrong" };

// How old a notice may be is judged by the machine's own clock, as its sender's is: the app's may be set to another day.
const verified = (secret: string, body: string, headers: Record<string, string>): Verified => {
  try {
    return { content: new Webhook(secret).verify(body, headers) };
  } catch (error) {
    return { refused: error instanceof Error && /timestamp too (old|new)/i.test(error.message) ? "stale" : "wrong" };
  }
};

/**
 * Takes a signed notice (Standard Webhooks): verifies it, stores it raw, and applies it once per message id. A notice
 * whose application failed is applied when it comes again. No transaction is held meanwhile: what applies a notice guards
 * itself, so that two deliveries at once come to the same.
 */
export const receiveNotice = async (
  app: App,
  source: string,
  secret: string | string[],
  headers: Headers,
  body: string,
  apply: (app: App, body: unknown) => Promise<string>,
): Promise<{ outcome: string; repeated: boolean }> => {
  const named = Object.fromEntries(["webhook-id", "webhook-timestamp", "webhook-signature"].map((name) => [name, headers.get(name) ?? ""]));
  const read = [secret].flat().map((one) => verified(one, body, named));
  const good = read.find((one) => "content" in one);
  if (!good) {
    const stale = read.some((one) => "refused" in one && one.refused === "stale");
    throw new Refusal({ code: stale ? "stale_notice" : "bad_signature" });
  }
  const messageId = named["webhook-id"]!;
  await keepNotice(app.fork(), source, messageId, body, app.clock.now());
  const known = async () => {
    const kept = await app.fork().findOne(Notice, { source, messageId });
    return kept?.appliedAt ? { outcome: kept.outcome ?? "", repeated: true } : undefined;
  };
  const before = await known();
  if (before) return before;
  const outcome = await apply(app, good.content);
  // Of two at once, the first to be done is the one that is written down.
  const written = await app.fork().nativeUpdate(Notice, { source, messageId, appliedAt: null }, { appliedAt: app.clock.now(), outcome });
  return written > 0 ? { outcome, repeated: false } : ((await known()) ?? { outcome, repeated: true });
};
