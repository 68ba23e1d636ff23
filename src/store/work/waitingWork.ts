import { isWorkTopic, workTopics, type WaitingWork } from "../../core/work";
import type { EntityManager } from "../orm";

const iso = (at: string): string => new Date(at).toISOString();

/** What waits in the background that should have been done a minute ago, and emails that wait, are unsure or were dropped in the last week. */
export const waitingWork = async (em: EntityManager, now: Date): Promise<WaitingWork> => {
  const late = new Date(now.getTime() - 60_000);
  // What carries no id is about nothing that is known.
  const asId = (text: string) => `case when ${text} ~ '^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$' then (${text})::uuid end`;
  // Compared as ids, not as text: text would have every charge and order read for each row that waits.
  const about = (id: string) => `coalesce(
     (select 'order ' || replace(s.number::text, '-', 'T') from charge g join sale_order s on s.checkout_id = g.checkout_id where g.id = ${id}),
     (select 'order ' || replace(s.number::text, '-', 'T') from refund r join sale_order s on s.id = r.order_id where r.id = ${id}),
     (select 'order ' || replace(s.number::text, '-', 'T') from recurring_payment a join sale_order s on s.id = a.order_id where a.id = ${id}),
     (select l.name from launch l where l.id = ${id}), (select l.name from bell_run b join launch l on l.id = b.launch_id where b.id = ${id}), '')`;
  const work = await em.execute<
    { id: string | null; topic: string; about: string; since: string; next_at: string | null; tries: number; because: string | null }[]
  >(
    `select o.id::text as id, o.topic, ${about(asId("o.payload->>'id'"))} as about, coalesce(o.first_due_at, o.due_at) as since, o.due_at as next_at, o.tries, o.failed_because as because
     from outbox o where o.tries > 0 or o.due_at < ?
     union all
     select null, j.name, ${about(asId("coalesce(j.data->'payload'->>'id', j.data->>'id')"))}, (j.data->>'firstDueAt')::timestamptz, null, coalesce((j.data->>'tries')::int, 0), null
     from pgboss.job j where j.state < 'completed' and j.name <> 'maintenance' and (j.data->>'firstDueAt')::timestamptz < ?
     order by 4 limit 200`,
    [late, late],
  );
  const emails = await em.execute<(Pick<WaitingWork["emails"][number], "kind" | "state"> & { because: string | null; n: string; since: string })[]>(
    `select kind, 'late' as state, max(failed_because) as because, count(*) as n, min(due_at) as since from email_message where state = 'due' and (due_at < ? or tries > 0) group by kind
     union all select kind, 'sending', null, count(*), min(due_at) from email_message where state = 'sending' group by kind
     union all select kind, 'unknown', failed_because, count(*), min(due_at) from email_message where state = 'unknown' group by kind, failed_because
     union all select kind, 'dropped', stopped_because, count(*), min(due_at) from email_message where state = 'stopped' and due_at > ?::timestamptz - interval '7 days' group by kind, stopped_because
     order by 2, 1`,
    [late, now],
  );
  return {
    work: work.map((row) => ({
      id: row.id,
      what: isWorkTopic(row.topic) ? workTopics[row.topic].says : row.topic,
      about: row.about,
      since: iso(row.since),
      nextAt: row.next_at && iso(row.next_at),
      tries: row.tries,
      because: row.because ?? (row.id === null ? "under way" : "waiting for its turn"),
    })),
    emails: emails.map((row) => ({ kind: row.kind, state: row.state, because: row.because ?? "", n: Number(row.n), since: iso(row.since) })),
  };
};
