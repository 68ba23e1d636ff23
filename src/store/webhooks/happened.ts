import type { Told, WebhookEvent } from "../../core/webhooks";
import { endedClocks } from "../launch/clockEnds";
import type { EntityManager } from "../orm";

/** Something that happened to a person whose address is known, of a kind that other tools can be told of; under a key that is its own. */
export interface Happened extends Told {
  key: string;
}

const logged: Partial<Record<WebhookEvent, string>> = {
  "person.opted_in": "opted_in",
  "person.confirmed": "confirmed",
  "order.paid": "paid",
  "order.extended": "offer_accepted",
  "order.refunded": "refunded",
};

const iso = (column: string): string => `to_char(${column} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"')`;

/** One kind of thing since an instant, launch by launch, by its index. `l` is a launch. */
const sourceOf = (type: WebhookEvent, since: Date, now: Date): { sql: string; values: unknown[] } => {
  const kind = logged[type];
  if (kind)
    return {
      sql: `select '${type}' as type, e.at, e.launch_id, e.person_id, e.data, null, null from l cross join lateral (select * from event where launch_id = l.id and kind = '${kind}' and at >= ?) e`,
      values: [since],
    };
  switch (type) {
    case "person.tagged":
      return {
        sql: `select '${type}', at, null::uuid, person_id, '{}'::jsonb, tag, null from person_tag where at >= ? and exists (select from l where l.every)`,
        values: [since],
      };
    case "clock.started":
      return {
        sql: `select '${type}', s.at, s.launch_id, s.person_id, '{}'::jsonb, null, s.trigger from l join clock_start s on s.launch_id = l.id and s.at >= ? where not s.superseded`,
        values: [since],
      };
    case "clock.stopped":
      return {
        sql: `select '${type}', s.at, s.launch_id, s.person_id, '{}'::jsonb, null, s.because from l join clock_stop s on s.launch_id = l.id and s.at >= ?`,
        values: [since],
      };
    default:
      return {
        sql: `select '${type}', s.ends_at, l.id, s.person_id, '{}'::jsonb, null, null from l cross join lateral (${endedClocks.replace("s.launch_id = ?", "s.launch_id = l.id")}) s
          where greatest(s.ends_at, s.dated_at) >= ?`,
        values: [now, since],
      };
  }
};

interface Row {
  key: string;
  type: WebhookEvent;
  at: string;
  slug: string | null;
  launch: string | null;
  person_id: string;
  email: string;
  first_name: string;
  last_name: string;
  order: { id: string; number: number; products: { id: string; name: string }[] } | null;
  data: { amountMinor?: number; currency?: string };
  tag: string | null;
  word: string | null;
}

interface Asked {
  endpointId: string;
  events: readonly WebhookEvent[];
  launchId: string | null;
  /** What happened before is not told. */
  since: Date;
  /** Only what could be known from then on is looked at. */
  knownSince: Date;
}

/**
 * What happened of some kinds and an endpoint was not told yet, the oldest first. People whose address is not known, who were erased, or who only try
 * things out are left out.
 */
export const untold = async (
  em: EntityManager,
  { endpointId, events, launchId, since, knownSince }: Asked,
  now: Date,
  most: number,
): Promise<Happened[]> => {
  const sources = events.map((type) => sourceOf(type, knownSince, now));
  const rows = await em.execute<Row[]>(
    `with l as (select id, ?::uuid is null as every from launch where ?::uuid is null or id = ?::uuid),
       found (type, at, launch_id, person_id, data, tag, word) as (${sources.map(({ sql }) => `(${sql})`).join(" union all ")}),
       named as (select *, concat_ws(':', type, launch_id, person_id, ${iso("at")}, data->>'order', tag) as key from found where at >= ? and at <= ?)
     select n.key, n.type, ${iso("n.at")} as at, a.slug, a.name as launch, c.person_id, c.email, c.first_name, c.last_name, n.data, n.tag, n.word,
       (select jsonb_build_object('id', o.id, 'number', o.number, 'products', (select coalesce(jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) order by p.name), '[]') from product p
          where case when n.data->'products' is null then exists (select from order_line x where x.order_id = o.id and x.product_id = p.id)
            else p.id::text = any(array(select jsonb_array_elements_text(n.data->'products'))) end))
        from sale_order o where o.id = (n.data->>'order')::uuid) as "order"
     from named n join person w on w.id = n.person_id join contact c on c.person_id = coalesce(w.merged_into, w.id) and not c.test and c.erased_at is null and c.merged_into is null
     left join launch a on a.id = n.launch_id
     where not exists (select from webhook_message m where m.endpoint_id = ? and m.key = n.key) order by n.at, n.key limit ${most}`,
    [launchId, launchId, launchId, ...sources.flatMap(({ values }) => values), since, now, endpointId],
  );
  return rows.map(({ key, type, at, slug, launch, person_id, email, first_name, last_name, order, data, tag, word }) => ({
    key,
    type,
    at: new Date(at),
    launch: slug === null ? null : { slug, name: launch! },
    person: { id: person_id, email, firstName: first_name, lastName: last_name },
    order: order && { ...order, amountMinor: data.amountMinor!, currency: data.currency! },
    tag,
    clock: word === null ? null : type === "clock.started" ? { startedBy: word } : { stoppedBy: word },
  }));
};
