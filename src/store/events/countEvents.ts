import { stages } from "../../core/events";
import { keepEarlierStages, stageIsEarlier } from "./rollups";

const stageKinds = stages.map((stage) => `'${stage}'`).join(", ");
const firstTimes = stages.filter((stage) => stage !== "visited");

/**
 * The part of a statement that logs what people did, from the rows `b` of `source`, of which `person` says whose each is. It keeps
 * the roll-ups of first times per person and stage and of how often on which day, and counts events by the hour.
 */
export const countEvents = (source: string, person: string): string => /* sql */ `batch as (
  select b.launch_id, ${person} as person_id, b.kind, b.at, b.page, b.country, b.visitor_id, b.data
  from ${source}
), logged as (
  insert into event (launch_id, person_id, kind, at, page, country, visitor_id, data) select * from batch
), counted as (
  insert into hour_count (launch_id, kind, hour, country, source, people, events)
  select launch_id, kind, date_trunc('hour', at, 'UTC'), coalesce(country, ''), coalesce(data->>'source', ''), 0, count(*) from batch group by 1, 2, 3, 4, 5
), staged as (
  insert into stage_rollup as r (launch_id, person_id, country, country_at, source, source_at, device, device_at, partner_id, visited, ${firstTimes.join(", ")})
  select launch_id, person_id,
    (array_agg(country order by at) filter (where country is not null))[1], min(at) filter (where country is not null),
    (array_agg(data->>'source' order by at) filter (where data->>'source' is not null))[1], min(at) filter (where data->>'source' is not null),
    (array_agg(data->>'device' order by at) filter (where data->>'device' is not null))[1], min(at) filter (where data->>'device' is not null),
    (select t.partner_id from touch_person tp join touch t on t.id = tp.touch_id where tp.person_id = batch.person_id and t.launch_id = batch.launch_id order by t.at limit 1),
    min(at), ${firstTimes.map((stage) => `min(at) filter (where kind = '${stage}')`).join(", ")}
  from batch where kind in (${stageKinds}) group by 1, 2 order by 1, 2
  on conflict (launch_id, person_id) do update set ${keepEarlierStages} where ${stageIsEarlier}
  returning 1
), daily as (
  -- After the stages, as a merge of two people locks them: each waits for the other at the same row.
  insert into day_rollup as d (launch_id, person_id, kind, page, day, n)
  select launch_id, person_id, kind, coalesce(page, ''), (at at time zone 'UTC')::date, count(*) from batch where (select count(*) from staged) >= 0
  group by 1, 2, 3, 4, 5 order by 1, 2, 3, 4, 5
  on conflict (launch_id, person_id, kind, page, day) do update set n = d.n + excluded.n
)`;
