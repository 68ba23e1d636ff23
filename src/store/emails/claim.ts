import { EmailMessage } from "../tables";
import type { EntityManager } from "../orm";

/** What became of a claimed email. */
export interface Outcome {
  id: string;
  state: "sent" | "stopped" | "unknown" | "due";
  because?: string;
  /** Under which subject it was sent. */
  subject?: string;
  /** When it is due again. */
  dueAt?: Date;
}

/** Takes emails that are due into a worker's hand, the longest due first. Two workers never take the same one. */
export const claimEmails = async (em: EntityManager, worker: string, bulk: boolean, now: Date, most: number): Promise<EmailMessage[]> => {
  const rows = await em.execute<object[]>(
    `update email_message set state = 'sending', taken_by = ?, handed_at = null, tries = tries + 1
     where id in (select id from email_message where state = 'due' and bulk = ? and due_at <= ? order by due_at limit ${Math.trunc(most)} for update skip locked)
     returning *`,
    [worker, bulk, now],
  );
  return rows.map((row) => em.map(EmailMessage, row as never));
};

/**
 * Writes down what became of emails that a worker has in hand, and that others are handed over from now on: one
 * statement, and from then on a crash leaves those as unknown. Answers which of the others are still in its hand: one that
 * stood still for so long that another took up its work may send none of it.
 */
export const confirmEmails = async (
  em: EntityManager,
  worker: string,
  outcomes: readonly Outcome[],
  handed: readonly string[],
  now: Date,
): Promise<ReadonlySet<string>> => {
  if (outcomes.length === 0 && handed.length === 0) return new Set();
  const rows = outcomes.map(({ id, state, because, subject, dueAt }) => ({
    id,
    state,
    because: because ?? null,
    subject: subject ?? null,
    due_at: dueAt?.toISOString() ?? null,
  }));
  const held = await em.execute<{ id: string }[]>(
    `with done as (
       update email_message e set state = r.state, taken_by = null, handed_at = null, sent_at = case when r.state = 'sent' then ?::timestamptz end,
         stopped_because = case when r.state = 'stopped' then r.because end, failed_because = case when r.state in ('due', 'unknown') then r.because end,
         due_at = coalesce(r.due_at, e.due_at), subject = r.subject
       from jsonb_to_recordset(?::jsonb) as r(id uuid, state text, because text, subject text, due_at timestamptz) where e.id = r.id and e.taken_by = ?::uuid
     ) update email_message set handed_at = ? where id = any(?::uuid[]) and taken_by = ?::uuid returning id`,
    [now, JSON.stringify(rows), worker, now, `{${handed.join(",")}}`, worker],
  );
  return new Set(held.map(({ id }) => id));
};

/**
 * Takes up what workers that are gone had in hand. Mail to one person goes again, under the same Message-ID; so does mail
 * to many whose content was not on its way yet. The rest of it is unknown, and is not sent again by itself.
 */
export const takeUpEmails = async (em: EntityManager): Promise<number> => {
  const rows = await em.execute<object[]>(
    `update email_message e set state = case when e.bulk and e.handed_at is not null then 'unknown' else 'due' end, taken_by = null, handed_at = null,
       failed_because = 'the worker that had it ended'
     where e.state = 'sending' and not exists (select from worker w where w.id = e.taken_by and w.beat_at > now() - interval '15 seconds') returning 1`,
  );
  return rows.length;
};
