import { queueWork } from "../../store/platform/queueWork";
import type { EntityManager } from "../../store/orm";

/** Work that follows a change: written in its transaction, handed to the queue when it is due. Emails have a table of their own. */
export type OutboxTopic =
  | "settle_charge"
  | "charge_recurring_payment"
  | "settle_refund"
  | "capture_payment"
  | "run_bells"
  | "queue_emails"
  | "notify_vendor"
  | "reschedule_emails"
  | "welcome_partner"
  | "send_invitation"
  | "send_desk_password"
  | "send_partner_password"
  | "send_buyer_password";

/** Queues work in the current transaction. The same `key` queues once. */
export const queue = (em: EntityManager, topic: OutboxTopic, payload: { id: string }, dueAt: Date, key?: string): Promise<void> =>
  queueWork(em, { topic, payload, key, dueAt });

/** The same as a row, for a statement that writes other things with it. Its key is new. */
export const workRow = (topic: OutboxTopic, payload: { id: string }, dueAt: Date, key: string) => ({ topic, payload, key, due_at: dueAt });
