import { stages } from "../../core/events";
import type { EntityManager } from "../orm";

// What is counted in one go by the writer is told here once more, over the whole log: a test holds the two together.
const kindsOfStages = stages.map((stage) => `'${stage}'`).join(", ");
const columns = `country, country_at, source, source_at, device, device_at, partner_id, ${stages.join(", ")}`;

const log = /* sql */ `
create temp table logged on commit drop as
select e.launch_id, coalesce(m.merged_into, e.person_id) as person_id, e.kind, e.at, coalesce(e.page, '') as page, e.country, e.data
from event e left join person m on m.id = e.person_id where e.at >= ?`;

const stageRows = /* sql */ `
create temp table staged on commit drop as
select launch_id, person_id, (array_agg(country order by country_at) filter (where country_at is not null))[1] as country, min(country_at) as country_at,
  (array_agg(source order by source_at) filter (where source_at is not null))[1] as source, min(source_at) as source_at,
  (array_agg(device order by device_at) filter (where device_at is not null))[1] as device, min(device_at) as device_at,
  (array_agg(partner_id) filter (where partner_id is not null))[1] as partner_id, ${stages.map((stage) => `min(${stage}) as ${stage}`).join(", ")}
from (
  -- What the log does not reach back to stays as it was kept; of what it holds, only itself counts.
  select launch_id, person_id, case when country_at < t.edge then country end as country, case when country_at < t.edge then country_at end as country_at,
    case when source_at < t.edge then source end as source, case when source_at < t.edge then source_at end as source_at,
    case when device_at < t.edge then device end as device, case when device_at < t.edge then device_at end as device_at, partner_id,
    ${stages.map((stage) => `case when ${stage} < t.edge then ${stage} end as ${stage}`).join(", ")}
  from stage_rollup, (select ?::timestamptz as edge) as t
  union all
  select launch_id, person_id, country, case when country is not null then at end, data->>'source', case when data->>'source' is not null then at end,
    data->>'device', case when data->>'device' is not null then at end,
    (select t.partner_id from touch_person tp join touch t on t.id = tp.touch_id where tp.person_id = l.person_id and t.launch_id = l.launch_id order by t.at limit 1),
    ${stages.map((stage) => (stage === "visited" ? "at" : `case when kind = '${stage}' then at end`)).join(", ")}
  from logged l where kind in (${kindsOfStages})
) as known group by 1, 2 having min(visited) is not null`;

// Whose form somebody else's browser confirmed, unless they had opted in there for themselves.
const confirmations = /* sql */ `
create temp table confirmed on commit drop as
select o.launch_id, o.page, o.person_id, o.at, v.person_id as asker from logged o join visitor v on v.id = (o.data->>'askedBy')::uuid
where o.kind = 'confirmed' and v.person_id <> o.person_id and not exists (
  select from logged l where l.launch_id = o.launch_id and l.person_id = v.person_id and l.page = o.page and l.kind = 'opted_in' and l.at <= o.at)`;

// A view whose form was confirmed from another browser went over to whoever the address belongs to, with its page alone.
const viewRows = /* sql */ `
create temp table viewed on commit drop as
select launch_id, page, person_id, (array_agg(variant order by seen_at, acted_at is not null))[1] as variant, min(seen_at) as seen_at, min(acted_at) as acted_at
from (
  select launch_id, page, person_id, variant, seen_at, case when acted_at < t.edge then acted_at end as acted_at
  from page_rollup, (select ?::timestamptz as edge) as t where seen_at < t.edge
  union all
  select l.launch_id, l.page, coalesce(
      (select o.person_id from confirmed o where o.launch_id = l.launch_id and o.page = l.page and o.asker = l.person_id and o.at >= l.at order by o.at limit 1), l.person_id),
    case when l.kind = 'opted_in' then 'A' else l.data->>'variant' end, l.at, case when l.kind = 'opted_in' then l.at end
  from logged l where l.kind in ('visited', 'saw_sales', 'opted_in')
) as known group by 1, 2, 3`;

const hourRows = /* sql */ `
create temp table hours on commit drop as
select launch_id, kind, hour, country, source, sum(people) as people, sum(events) as events from (
  select launch_id, kind, hour, country, source, 0 as people, events from hour_count where hour < ?
  union all select launch_id, kind, date_trunc('hour', at, 'UTC'), coalesce(country, ''), coalesce(data->>'source', ''), 0, count(*) from logged group by 1, 2, 3, 4, 5
  union all select r.launch_id, s.kind, date_trunc('hour', s.at, 'UTC'), coalesce(r.country, ''), coalesce(r.source, ''), count(*), 0
    from stage_rollup r cross join lateral (values ${stages.map((stage) => `('${stage}', r.${stage})`).join(", ")}) as s(kind, at) where s.at is not null group by 1, 2, 3, 4, 5
) as known group by 1, 2, 3, 4, 5 having sum(people) <> 0 or sum(events) <> 0`;

const counted = ["stage_rollup", "page_rollup"];

/**
 * Makes roll-ups and counters anew from the log, which is whole from `edge` on; what lies before it is kept as it was counted. An edge
 * is the beginning of a day (UTC). Whoever would write events meanwhile waits.
 */
export const rebuildFigures = async (em: EntityManager, edge: Date): Promise<void> => {
  await em.transactional(async (tx) => {
    await tx.execute("lock table event, stage_rollup, day_rollup, page_rollup in share row exclusive mode");
    for (const table of counted) await tx.execute(`alter table ${table} disable trigger user`);
    await tx.execute(log, [edge]);
    await tx.execute("create index on logged (launch_id, person_id)");
    await tx.execute("analyze logged");
    await tx.execute(stageRows, [edge]);
    await tx.execute(confirmations);
    await tx.execute(viewRows, [edge]);
    await tx.execute("delete from stage_rollup");
    await tx.execute(`insert into stage_rollup (launch_id, person_id, ${columns}) select launch_id, person_id, ${columns} from staged`);
    await tx.execute("delete from page_rollup");
    await tx.execute(
      "insert into page_rollup (launch_id, page, person_id, variant, seen_at, acted_at) select launch_id, page, person_id, variant, seen_at, acted_at from viewed",
    );
    await tx.execute("delete from day_rollup where day >= (?::timestamptz at time zone 'UTC')::date", [edge]);
    await tx.execute(
      `insert into day_rollup (launch_id, person_id, kind, page, day, n) select launch_id, person_id, kind, page, (at at time zone 'UTC')::date, count(*) from logged group by 1, 2, 3, 4, 5`,
    );
    await tx.execute(hourRows, [edge]);
    await tx.execute("delete from hour_count");
    await tx.execute(
      "insert into hour_count (launch_id, kind, hour, country, source, people, events) select launch_id, kind, hour, country, source, people, events from hours",
    );
    await tx.execute("delete from page_count");
    await tx.execute(
      `insert into page_count (launch_id, page, variant, people, opted_in, began, paid) select r.launch_id, r.page, r.variant, count(*), count(r.acted_at), count(s.began_checkout), count(s.paid)
       from page_rollup r left join stage_rollup s on s.launch_id = r.launch_id and s.person_id = r.person_id group by 1, 2, 3`,
    );
    for (const table of counted) await tx.execute(`alter table ${table} enable trigger user`);
  });
};
