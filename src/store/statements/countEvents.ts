import { stages } from "../../core/events";

const stageKinds = stages.map((stage) => `'${stage}'`).join(", ");

/**
 * The part of a statement that logs what people did and keeps the roll-up of first times per person and stage, from the
 * rows of `source`, of which `person` says whose each is.
 */
export const countEvents = (source: string, person: string): string => /* sql */ `batch as (
  select b.launch_id, ${person} as person_id, b.kind, b.at, b.page, b.country, b.visitor_id, b.data
  from ${source} as b(launch_id uuid, person_id uuid, visitor_id uuid, kind text, at timestamptz, page text, country char(2), data jsonb)
), logged as (
  insert into event (launch_id, person_id, kind, at, page, country, visitor_id, data) select * from batch
), staged as (
  insert into stage_rollup as r (launch_id, person_id, country, partner_id, visited, opted_in, saw_sales, began_checkout, paid)
  select launch_id, person_id, max(country), (select t.partner_id from touch_person tp join touch t on t.id = tp.touch_id where tp.person_id = batch.person_id and t.launch_id = batch.launch_id order by t.at limit 1),
    min(at), min(at) filter (where kind = 'opted_in'), min(at) filter (where kind = 'saw_sales'),
    min(at) filter (where kind = 'began_checkout'), min(at) filter (where kind = 'paid')
  from batch where kind in (${stageKinds}) group by 1, 2 order by 1, 2
  on conflict (launch_id, person_id) do update set
    country = coalesce(excluded.country, r.country), partner_id = coalesce(r.partner_id, excluded.partner_id), visited = least(r.visited, excluded.visited),
    opted_in = least(r.opted_in, excluded.opted_in), saw_sales = least(r.saw_sales, excluded.saw_sales),
    began_checkout = least(r.began_checkout, excluded.began_checkout), paid = least(r.paid, excluded.paid)
)`;

/** Who a row's visitor is. Looked up row by row: joined, the planner takes a handful of rows for a hundred, and reads all visitors. */
export const personOfVisitor = "coalesce((select v.person_id from visitor v where v.id = b.visitor_id), b.visitor_id)";
