import type { EmailVariant } from "../../core/emails";
import type { EmailMessage } from "../tables";
import type { EntityManager } from "../orm";
import { lockName } from "../platform/locks";
import { sendingLimitsOf } from "../settings/sending";

/** What became of a claimed email. */
export interface Outcome {
  id: string;
  state: "sent" | "stopped" | "unknown" | "due";
  because?: string;
  /** Under which subject it was sent. */
  subject?: string;
  /** Which of two variants it was. */
  variant?: EmailVariant | undefined;
  statedClosing?: Date | undefined;
  /** When it is due again. */
  dueAt?: Date;
  /** Whether it is the last one before a close, where it was dated anew. */
  lastCall?: boolean;
}

const take = async (em: EntityManager, worker: string, from: string, values: unknown[]): Promise<EmailMessage[]> => {
  const rows = await em.execute<object[]>(
    `update email_message set state = 'sending', taken_by = ?, handed_at = null, tries = tries + 1 where id in (${from}) and state = 'due' returning *`,
    [worker, ...values],
  );
  // Plain rows: nothing of them is changed here, and watching thousands for changes costs as much as filling them in.
  const columns = em.getMetadata().get<EmailMessage>("EmailMessage");
  return rows.map((row) => em.getDriver().mapResult(row as never, columns) as EmailMessage);
};

/** Takes emails to one person that are due into a worker's hand, the longest due first. Two workers never take the same one. */
export const claimPersonal = (em: EntityManager, worker: string, now: Date, most: number): Promise<EmailMessage[]> =>
  take(
    em,
    worker,
    `select id from email_message where state = 'due' and not bulk and due_at <= ? order by due_at limit ${Math.trunc(most)} for update skip locked`,
    [now],
  );

/** How many more emails to many may be handed over within the minute. */
const leftOfMinute = async (em: EntityManager, now: Date, perMinute: number): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>(
    `select (select count(*) from email_message where bulk and sent_at > ?) + (select count(*) from email_message where bulk and state = 'sending') as n`,
    [new Date(now.getTime() - 60_000)],
  );
  return Math.max(0, perMinute - Number(row!.n));
};

/**
 * Takes emails to many that are due into a worker's hand, the longest due first, as many as the minute still holds. Workers take turns, and nobody has
 * two of them in hand: whether one more is too many for a person is known only when the one before is through.
 */
export const claimBulk = (em: EntityManager, worker: string, now: Date, most: number): Promise<EmailMessage[]> =>
  em.transactional(async (tx) => {
    await lockName(tx, "claim_bulk");
    const { perMinute } = await sendingLimitsOf(tx);
    const room = perMinute === null ? most : Math.min(most, await leftOfMinute(tx, now, perMinute));
    if (room === 0) return [];
    return take(
      tx,
      worker,
      `select id from (
         select distinct on (contact_id) id, contact_id, due_at from (
           select id, contact_id, due_at, last_call from email_message where state = 'due' and bulk and due_at <= ? order by due_at limit ${4 * most}
         ) due order by contact_id, last_call desc, due_at, id
       ) one where not exists (select from email_message held where held.contact_id = one.contact_id and held.bulk and held.state = 'sending')
       order by due_at limit ${Math.trunc(room)}`,
      [now],
    );
  });

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
  const rows = outcomes.map(({ id, state, because, subject, variant, statedClosing, dueAt, lastCall }) => ({
    id,
    state,
    because: because ?? null,
    subject: subject ?? null,
    variant: variant ?? null,
    stated_closing: statedClosing?.toISOString() ?? null,
    due_at: dueAt?.toISOString() ?? null,
    last_call: lastCall ?? null,
  }));
  const held = await em.execute<{ id: string }[]>(
    `with done as (
       update email_message e set state = r.state, taken_by = null, handed_at = null, sent_at = case when r.state = 'sent' then ?::timestamptz end,
         stopped_because = case when r.state = 'stopped' then r.because end, failed_because = case when r.state in ('due', 'unknown') then r.because end,
         due_at = coalesce(r.due_at, e.due_at), subject = r.subject, variant = r.variant, stated_closing = r.stated_closing, last_call = coalesce(r.last_call, e.last_call),
         tries = case when r.state = 'due' and r.because is null then 0 else e.tries end
       from jsonb_to_recordset(?::jsonb) as r(id uuid, state text, because text, subject text, variant text, stated_closing timestamptz, due_at timestamptz, last_call boolean) where e.id = r.id and e.taken_by = ?::uuid
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
