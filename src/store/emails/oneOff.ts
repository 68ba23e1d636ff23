import type { Condition } from "../../core/conditions";
import type { EntityManager } from "../orm";
import { conditionSql } from "../people/find/conditionSql";

// Contacts who stand in the list of people; conditions are asked of people named `p`.
const contacts = "contact c cross join lateral (select c.person_id as id) p";
const listed = "not c.test and c.erased_at is null and c.merged_into is null";
const reachable =
  "c.consent_at is not null and c.unsubscribed_at is null and c.suppressed_at is null and not exists (select from launch_opt_out x where x.contact_id = c.id and x.launch_id = ?)";

const metBy = (condition: Condition | null, now: Date) => (condition ? conditionSql(condition, { now }) : { sql: "true", values: [] as unknown[] });

/** How many people meet a condition, how many of them may be written to about a launch, and why the others may not. */
export interface RecipientCounts {
  people: number;
  recipients: number;
  noConsent: number;
  unsubscribed: number;
  suppressed: number;
  launchLeft: number;
}

/** To how many an email to those who meet a condition would go now; each of the others is counted once, by the first reason. */
export const countRecipients = async (em: EntityManager, launchId: string, condition: Condition | null, now: Date): Promise<RecipientCounts> => {
  const met = metBy(condition, now);
  const rows = await em.execute<{ why: string; n: string }[]>(
    `select case when c.unsubscribed_at is not null then 'unsubscribed' when c.consent_at is null then 'noConsent'
       when c.suppressed_at is not null then 'suppressed'
       when exists (select from launch_opt_out x where x.contact_id = c.id and x.launch_id = ?) then 'launchLeft' else 'recipients' end as why, count(*) as n
     from ${contacts} where ${listed} and ${met.sql} group by 1`,
    [launchId, ...met.values],
  );
  const counts = { recipients: 0, noConsent: 0, unsubscribed: 0, suppressed: 0, launchLeft: 0 };
  for (const { why, n } of rows) counts[why as keyof typeof counts] = Number(n);
  return { people: Object.values(counts).reduce((sum, n) => sum + n, 0), ...counts };
};

interface OneOff {
  id: string;
  launchId: string;
  condition: Condition | null;
  /** When it goes where no zone is known, and to whom in which zone at another instant. */
  dueAt: Date;
  dueByZone: Record<string, Date>;
}

/**
 * Queues an email that goes once to a slice of those who meet its condition and may be written to: behind `after`, in the order of their ids, each once.
 * Answers how many were queued, and the last contact of the slice; none where nobody is left.
 */
export const queueOnce = async (
  tx: EntityManager,
  { id, launchId, condition, dueAt, dueByZone }: OneOff,
  { after, most }: { after: string | null; most: number },
  now: Date,
): Promise<{ queued: number; last: string | null }> => {
  const met = metBy(condition, now);
  const [row] = await tx.execute<{ n: string; looked: string; last: string | null }[]>(
    `with slice as materialized (
       select c.id, coalesce(c.zone, c.guessed_zone) as zone from ${contacts}
       where ${listed} and ${reachable} and (?::uuid is null or c.id > ?::uuid) and ${met.sql} order by c.id limit ${Math.trunc(most)}
     ), queued as (
       insert into email_message (id, key, kind, launch_id, contact_id, due_at, data)
       select gen_random_uuid(), ?::text || s.id, 'once', ?, s.id, coalesce((?::jsonb ->> s.zone)::timestamptz, ?::timestamptz), ?::jsonb from slice s
       on conflict (key) do nothing returning 1
     ) select (select count(*) from queued) as n, (select count(*) from slice) as looked, (select id from slice order by id desc limit 1) as last`,
    [launchId, after, after, ...met.values, `once:${launchId}:${id}:`, launchId, JSON.stringify(dueByZone), dueAt, JSON.stringify({ email: id })],
  );
  return { queued: Number(row!.n), last: Number(row!.looked) < most ? null : row!.last };
};

/** The zones in which people with an address live, as far as they are known. */
export const zonesOfPeople = async (em: EntityManager): Promise<string[]> => {
  const rows = await em.execute<{ zone: string }[]>(
    `select distinct coalesce(c.zone, c.guessed_zone) as zone from contact c where ${listed} and coalesce(c.zone, c.guessed_zone) is not null`,
  );
  return rows.map(({ zone }) => zone);
};

/** Copies of an email that goes once which wait to be sent, by how their keys begin. */
const waiting = "key like ? and state = 'due'";
const prefix = (launchId: string, id: string) => `once:${launchId}:${id}:%`;

/** Has the copies that wait looked at by an instant: at once, or so late that nobody gets one meanwhile. */
export const redateOnce = async (tx: EntityManager, launchId: string, id: string, dueAt: Date): Promise<void> => {
  await tx.execute(`update email_message set due_at = ? where ${waiting}`, [dueAt, prefix(launchId, id)]);
};

/** Drops the copies that wait. */
export const stopOnce = async (tx: EntityManager, launchId: string, id: string): Promise<void> => {
  await tx.execute(`update email_message set state = 'stopped', stopped_because = 'email_withdrawn' where ${waiting}`, [prefix(launchId, id)]);
};
