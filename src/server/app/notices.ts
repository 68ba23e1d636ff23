import { randomUUID } from "node:crypto";
import { Webhook } from "standardwebhooks";
import type { App } from "./app";
import { Refusal } from "./refusal";

const verified = (secret: string, body: string, headers: Record<string, string>): unknown => {
  try {
    return new Webhook(secret).verify(body, headers);
  } catch {
    return undefined;
  }
};

/**
 * Takes a signed notice (Standard Webhooks): verifies it, stores it raw, and applies it once per message id. A notice
 * whose application failed is applied when it comes again.
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
  const content = [secret]
    .flat()
    .map((one) => verified(one, body, named))
    .find((read) => read !== undefined);
  if (content === undefined) throw new Refusal(401, "bad_signature", "The signature of this notice does not fit. Nothing was changed.");
  const em = app.fork();
  const messageId = named["webhook-id"]!;
  await em.execute(
    "insert into notice (id, source, message_id, body, received_at) values (?, ?, ?, ?, ?) on conflict (source, message_id) do nothing",
    [randomUUID(), source, messageId, body, app.clock.now()],
  );
  // The row's lock makes two deliveries at once wait for one another.
  return em.transactional(async (tx) => {
    const [row] = await tx.execute<{ applied_at: string | null; outcome: string | null }[]>(
      "select applied_at, outcome from notice where source = ? and message_id = ? for update",
      [source, messageId],
    );
    if (row?.applied_at) return { outcome: row.outcome ?? "", repeated: true };
    const outcome = await apply(app, content);
    await tx.execute("update notice set applied_at = ?, outcome = ? where source = ? and message_id = ?", [
      app.clock.now(),
      outcome,
      source,
      messageId,
    ]);
    return { outcome, repeated: false };
  });
};
