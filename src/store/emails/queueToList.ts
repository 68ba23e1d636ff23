import type { EmailData } from "../../core/emails";
import type { EntityManager } from "../orm";

/** An email on a bell, for the list of a launch. */
export interface ListEmail {
  launchId: string;
  /** Unique for the email and its window; with a contact's id it makes their copy of it unique. */
  key: string;
  data: EmailData["bell"];
  toBuyers: boolean;
  /** Whether it is the last one before the close. */
  lastCall: boolean;
  /** When it goes, and to whom in which zone at another instant. */
  dueAt: Date;
  dueByZone?: Record<string, Date>;
}

/**
 * Queues an email to a slice of the list of a launch: contacts whose consent stands, in the order of their ids, behind
 * `after`; without those who bought, where `toBuyers` is false. The key makes it unique for each contact, so that the same
 * email of the same window is queued once. Answers how many were queued, and the last contact of the slice; none where
 * the list is at its end.
 */
export const queueToList = async (
  em: EntityManager,
  { launchId, key, data, toBuyers, lastCall, dueAt, dueByZone = {} }: ListEmail,
  { after, most }: { after: string | null; most: number },
): Promise<{ queued: number; last: string | null }> => {
  const [row] = await em.execute<{ n: string; looked: string; last: string | null }[]>(
    `with slice as materialized (
       select c.id, coalesce(c.zone, c.guessed_zone) as zone
       from contact c join stage_rollup r on r.person_id = c.person_id and r.launch_id = ? and r.opted_in is not null
       where c.consent_at is not null and c.unsubscribed_at is null and c.suppressed_at is null and not exists (select from launch_opt_out x where x.contact_id = c.id and x.launch_id = r.launch_id) and (?::uuid is null or c.id > ?::uuid) order by c.id limit ${Math.trunc(most)}
     ), queued as (
       insert into email_message (id, key, kind, launch_id, contact_id, due_at, last_call, data)
       select gen_random_uuid(), ?::text || s.id, 'bell', ?, s.id, coalesce((?::jsonb ->> s.zone)::timestamptz, ?::timestamptz), ?, ?::jsonb from slice s
       where ?::boolean or not exists (select from sale_order o where o.launch_id = ? and o.contact_id = s.id and not o.test)
       on conflict (key) do nothing returning 1
     ) select (select count(*) from queued) as n, (select count(*) from slice) as looked, (select id from slice order by id desc limit 1) as last`,
    [launchId, after, after, `${key}:`, launchId, JSON.stringify(dueByZone), dueAt, lastCall, JSON.stringify(data), toBuyers, launchId],
  );
  return { queued: Number(row!.n), last: Number(row!.looked) < most ? null : row!.last };
};

/** The zones of people on the list of a launch, as far as they are known. */
export const zonesOfList = async (em: EntityManager, launchId: string): Promise<string[]> => {
  const rows = await em.execute<{ zone: string }[]>(
    `select distinct coalesce(c.zone, c.guessed_zone) as zone from contact c join stage_rollup r on r.person_id = c.person_id and r.launch_id = ? and r.opted_in is not null
     where c.consent_at is not null and c.unsubscribed_at is null and coalesce(c.zone, c.guessed_zone) is not null`,
    [launchId],
  );
  return rows.map(({ zone }) => zone);
};

/** How many emails on a bell were queued for a window of a launch, whatever became of them. */
export const countOnBell = async (em: EntityManager, launchId: string, { email, opens }: EmailData["bell"]): Promise<number> => {
  const [row] = await em.execute<{ n: string }[]>(
    "select count(*) as n from email_message where launch_id = ? and kind = 'bell' and data->>'email' = ? and (data->>'opens') is not distinct from ?",
    [launchId, email, opens ?? null],
  );
  return Number(row!.n);
};
