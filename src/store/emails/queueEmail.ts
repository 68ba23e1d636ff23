import { randomUUID } from "node:crypto";
import type { EmailData, EmailKindName } from "../../core/emails";
import type { EntityManager } from "../orm";
import type { SaleRows } from "../payments/writeSale";

interface EmailTo {
  /** Makes the email unique: the same key is queued once. */
  key: string;
  launchId: string;
  contactId: string;
  checkoutId?: string;
  dueAt: Date;
  /** Whether it is the last one before a close of theirs. */
  lastCall?: boolean;
}
/** An email with what its kind carries. */
type NewEmail = { [K in EmailKindName]: EmailTo & { kind: K; data: EmailData[K] } }[EmailKindName];

/** Queues an email in the current transaction. Queued again while it waits, it moves to the new due time. */
export const queueEmail = async (em: EntityManager, email: NewEmail): Promise<void> => {
  await em.execute(
    `insert into email_message (id, key, kind, launch_id, contact_id, checkout_id, due_at, last_call, data) values (?, ?, ?, ?, ?, ?, ?, ?, ?::jsonb)
     on conflict (key) do update set due_at = case when email_message.state = 'due' then excluded.due_at else email_message.due_at end,
       last_call = case when email_message.state = 'due' then excluded.last_call else email_message.last_call end,
       checkout_id = case when email_message.state = 'due' then excluded.checkout_id else email_message.checkout_id end`,
    [
      randomUUID(),
      email.key,
      email.kind,
      email.launchId,
      email.contactId,
      email.checkoutId ?? null,
      email.dueAt,
      email.lastCall ?? false,
      JSON.stringify(email.data),
    ],
  );
};

/** An email whose key is new, as a row of a sale. */
export const emailRows = ({ key, kind, launchId, contactId, dueAt, data }: NewEmail): SaleRows => ({
  email_message: [{ id: randomUUID(), key, kind, launch_id: launchId, contact_id: contactId, due_at: dueAt, data }],
});
