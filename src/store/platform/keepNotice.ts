import { randomUUID } from "node:crypto";
import type { EntityManager } from "../orm";

/** Keeps a notice as it came. One that comes again is passed over. */
export const keepNotice = async (em: EntityManager, source: string, messageId: string, body: string, receivedAt: Date): Promise<void> => {
  await em.execute(
    "insert into notice (id, source, message_id, body, received_at) values (?, ?, ?, ?, ?) on conflict (source, message_id) do nothing",
    [randomUUID(), source, messageId, body, receivedAt],
  );
};
