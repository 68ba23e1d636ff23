import type { MomentSetting, StepSetting } from "../../../core/launch";
import { endedClocks } from "../../launch/clockEnds";
import type { EntityManager } from "../../orm";

/** Launches that have sequences and are not archived. */
export const launchesWithSequences = async (em: EntityManager): Promise<string[]> =>
  (await em.execute<{ id: string }[]>("select id from launch where archived_at is null and jsonb_array_length(settings->'sequences') > 0")).map(
    ({ id }) => id,
  );

interface SqlPart {
  sql: string;
  values: unknown[];
}

/** How far a sequence has come, locked for whoever goes on with it; undefined while another worker does. One that is new begins now. */
export const lockSequence = async (
  tx: EntityManager,
  launchId: string,
  key: string,
  version: number,
  now: Date,
): Promise<{ since: Date; lookedAt: Date; version: number } | undefined> => {
  await tx.execute("insert into launch_sequence (launch_id, key, since, looked_at, version) values (?, ?, ?, ?, ?) on conflict do nothing", [
    launchId,
    key,
    now,
    now,
    version,
  ]);
  const [row] = await tx.execute<{ since: string; looked_at: string; version: number }[]>(
    "select since, looked_at, version from launch_sequence where launch_id = ? and key = ? for update skip locked",
    [launchId, key],
  );
  return row && { since: new Date(row.since), lookedAt: new Date(row.looked_at), version: row.version };
};

/** Notes how far a sequence has looked, and whose settings its steps are queued by. */
export const noteSequence = async (tx: EntityManager, launchId: string, key: string, version: number, now: Date): Promise<void> => {
  await tx.execute("update launch_sequence set looked_at = ?, version = ? where launch_id = ? and key = ?", [now, version, launchId, key]);
};

/** The moments of a kind in a launch up to an instant: whose, when, and when it could first be known. */
const momentsSql = (from: MomentSetting, launchId: string, now: Date): SqlPart => {
  switch (from.on) {
    case "opt_in":
      return {
        sql: "select contact_id, asked_at as moment, greatest(asked_at, coalesce(confirmed_at, asked_at)) as known from opt_in where launch_id = ?",
        values: [launchId],
      };
    case "confirmed":
      return { sql: "select contact_id, confirmed_at as moment, confirmed_at as known from opt_in where launch_id = ?", values: [launchId] };
    case "checkout":
      return { sql: "select contact_id, begun_at as moment, begun_at as known from checkout where launch_id = ? and not test", values: [launchId] };
    case "bought":
      return {
        sql: `select contact_id, placed_at as moment, placed_at as known from sale_order o where launch_id = ? and not test
          and (?::uuid is null or exists (select from order_line n where n.order_id = o.id and n.product_id = ?::uuid))`,
        values: [launchId, from.product, from.product],
      };
    case "refunded":
      return {
        sql: `select o.contact_id, r.asked_at as moment, coalesce(r.settled_at, r.asked_at) as known from refund r join sale_order o on o.id = r.order_id
          where o.launch_id = ? and not o.test and r.state = 'succeeded'
          and (?::uuid is null or exists (select from order_line n where n.order_id = o.id and n.product_id = ?::uuid))`,
        values: [launchId, from.product, from.product],
      };
    case "tag":
      return {
        sql: "select c.id as contact_id, t.at as moment, t.at as known from person_tag t join contact c on c.person_id = t.person_id where t.tag = ? and not c.test",
        values: [from.tag],
      };
    case "notice":
      return {
        sql: "select contact_id, at as moment, at as known from person_notice where launch_id = ? and name = ?",
        values: [launchId, from.name],
      };
    case "clock_start":
      return {
        sql: `select c.id as contact_id, s.at as moment, s.at as known from clock_start s join contact c on c.person_id = s.person_id
          where s.launch_id = ? and not s.superseded and not c.test`,
        values: [launchId],
      };
    case "clock_end":
      return {
        sql: `select c.id as contact_id, s.ends_at as moment, greatest(s.ends_at, s.dated_at) as known from (${endedClocks}) s join contact c on c.person_id = s.person_id where not c.test`,
        values: [launchId, now],
      };
  }
};

/** Steps as they are queued: when at the earliest. At which hour exactly is found out when it is due. */
const stepsJson = (steps: readonly StepSetting[]): string => JSON.stringify(steps.map(({ id, minutes }) => ({ id, minutes })));

const queueSql = /* sql */ `insert into email_message (id, key, kind, launch_id, contact_id, due_at, data)
  select gen_random_uuid(), 'step:' || ?::uuid || ':' || s.id || ':' || p.contact_id, 'step', ?::uuid, p.contact_id, p.moment + make_interval(mins => s.minutes),
    jsonb_build_object('sequence', ?::text, 'step', s.id, 'moment', to_char(p.moment at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"'))
  from %people p cross join jsonb_to_recordset(?::jsonb) as s(id text, minutes integer) %where on conflict (key) do nothing`;

interface Sequence {
  launchId: string;
  key: string;
  from: MomentSetting;
  steps: readonly StepSetting[];
}

/**
 * Takes in whoever had the moment of a sequence since an instant and may be written to, each once, and queues its steps for them. Answers how many
 * they are.
 */
export const takeIn = async (
  tx: EntityManager,
  { launchId, key, from, steps }: Sequence,
  since: Date,
  knownSince: Date,
  now: Date,
): Promise<number> => {
  const moments = momentsSql(from, launchId, now);
  const [row] = await tx.execute<{ n: string }[]>(
    `with fresh as (
       insert into sequence_person (launch_id, key, contact_id, moment)
       select ?::uuid, ?, m.contact_id, min(m.moment) from (${moments.sql}) m join contact c on c.id = m.contact_id
       where m.moment >= ? and m.known >= ? and c.consent_at is not null and c.unsubscribed_at is null and c.suppressed_at is null and c.erased_at is null and c.merged_into is null
       group by m.contact_id on conflict do nothing returning contact_id, moment
     ), queued as (${queueSql.replace("%people", "fresh").replace("%where", "")})
     select count(*) as n from fresh`,
    [launchId, key, ...moments.values, since, knownSince, launchId, launchId, key, stepsJson(steps)],
  );
  return Number(row!.n);
};

/** Queues steps that a sequence has now for those who are in it, where they are not over: after an instant. */
export const queueNewSteps = async (tx: EntityManager, { launchId, key, steps }: Omit<Sequence, "from">, after: Date): Promise<void> => {
  await tx.execute(
    queueSql
      .replace("%people", "sequence_person")
      .replace("%where", "where p.launch_id = ? and p.key = ? and p.moment + make_interval(mins => s.minutes) > ?"),
    [launchId, launchId, key, stepsJson(steps), launchId, key, after],
  );
};

/** Has steps that wait looked at anew, after they were moved: when each goes is found out then. */
export const lookAgain = async (tx: EntityManager, launchId: string, key: string, now: Date): Promise<void> => {
  await tx.execute(
    "update email_message set due_at = ? where launch_id = ? and kind = 'step' and state = 'due' and due_at > ? and data->>'sequence' = ?",
    [now, launchId, now, key],
  );
};

/** From when somebody's steps are counted in each sequence of a launch that they are in. */
export const momentsOf = async (em: EntityManager, launchId: string, contactId: string): Promise<Record<string, Date>> => {
  const rows = await em.execute<{ key: string; moment: string }[]>("select key, moment from sequence_person where launch_id = ? and contact_id = ?", [
    launchId,
    contactId,
  ]);
  return Object.fromEntries(rows.map(({ key, moment }) => [key, new Date(moment)]));
};
