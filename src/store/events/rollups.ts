import { stages } from "../../core/events";
import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import { Dictionary, instants, uuids } from "./batch";
import { personOfRow } from "./personOfRow";

// A row of a person in a launch (`r`) takes what is earlier in one that comes in (`excluded`), in whatever order the two come.
const firstKnown = (column: string) =>
  `${column} = case when r.${column}_at is null or excluded.${column}_at < r.${column}_at then coalesce(excluded.${column}, r.${column}) else r.${column} end, ${column}_at = least(r.${column}_at, excluded.${column}_at)`;
const isEarlier = (column: string) => `excluded.${column} < coalesce(r.${column}, 'infinity')`;

/** What an upsert into the roll-up of stages sets: the first time at each stage, and the country, source and device that were known first. */
export const keepEarlierStages = [
  firstKnown("country"),
  firstKnown("source"),
  firstKnown("device"),
  "partner_id = coalesce(r.partner_id, excluded.partner_id)",
  ...stages.map((stage) => `${stage} = least(r.${stage}, excluded.${stage})`),
].join(", ");

/** Where there is anything to set: most who come again change nothing, and a row that is not written anew costs nothing. */
export const stageIsEarlier = [
  ...[...stages, "country_at", "source_at", "device_at"].map(isEarlier),
  "(r.partner_id is null and excluded.partner_id is not null)",
].join(" or ");

/** A person's view of a page, as the roll-up keeps it: the variant is the one that was seen first. */
const keepEarlierView = `variant = case when excluded.seen_at < r.seen_at then excluded.variant else r.variant end,
  seen_at = least(r.seen_at, excluded.seen_at), acted_at = least(r.acted_at, excluded.acted_at)`;

/** What a visitor saw of a page for the first time in a batch, and when they first opted in on it. */
export interface PageView {
  launchId: string;
  page: string;
  visitorId: string;
  /** Whose view it is, where that is not who the visitor is. */
  personId?: string;
  variant: string;
  seenAt: Date;
  actedAt?: Date;
}

/** Takes views into the roll-up of people and pages. */
export const countPageViews = async (tx: EntityManager, views: PageView[]): Promise<void> => {
  const places = new Dictionary<PageView>(
    ({ launchId, page, variant }) => `${launchId} ${variant} ${page}`,
    ({ launchId, page, variant }) => ({ launch_id: launchId, page, variant }),
  );
  await prepared(
    tx,
    "page_views",
    /* sql */ `
insert into page_rollup as r (launch_id, page, person_id, variant, seen_at, acted_at)
select launch_id, page, person_id, (array_agg(variant order by seen_at))[1], min(seen_at), min(acted_at) from (
  select f.launch_id, f.page, f.variant, b.seen_at, b.acted_at, ${personOfRow} as person_id
  from unnest(?::int[], ?::uuid[], ?::uuid[], ?::timestamptz[], ?::timestamptz[]) as b(place, visitor_id, person_id, seen_at, acted_at)
  join json_to_recordset(?::json) as f(n int, launch_id uuid, page text, variant text) on f.n = b.place
) as b group by 1, 2, 3 order by 1, 2, 3
on conflict (launch_id, page, person_id) do update set ${keepEarlierView}
where excluded.seen_at < r.seen_at or excluded.acted_at < coalesce(r.acted_at, 'infinity')`,
    [
      places.numbers(views),
      uuids(views.map(({ visitorId }) => visitorId)),
      uuids(views.map(({ personId }) => personId)),
      instants(views.map(({ seenAt }) => seenAt)),
      instants(views.map(({ actedAt }) => actedAt)),
      places.json(),
    ],
  );
};

/**
 * A view of a page, whose form was sent for another person, becomes that person's: else it would count as another's. It stays with who
 * opted in there for themselves.
 */
export const handOverView = async (tx: EntityManager, launchId: string, page: string, from: string, into: string): Promise<void> => {
  await tx.execute(
    `with seen as (delete from page_rollup where launch_id = ? and page = ? and person_id = ? and acted_at is null returning launch_id, page, variant, seen_at, acted_at)
     insert into page_rollup as r (launch_id, page, person_id, variant, seen_at, acted_at) select launch_id, page, ?::uuid, variant, seen_at, acted_at from seen
     on conflict (launch_id, page, person_id) do update set ${keepEarlierView}`,
    [launchId, page, from, into],
  );
};

/** Counts what one person did for another, at the earlier time of each, in the transaction that is under way. */
export const mergeRollups = async (tx: EntityManager, from: string, into: string): Promise<void> => {
  // The rows of both, in the order in which whoever counts visits locks them: two that meet wait, and none is ended.
  const both = [from, into];
  await tx.execute("select 1 from stage_rollup where person_id in (?, ?) order by launch_id, person_id for update", both);
  await tx.execute("select 1 from day_rollup where person_id in (?, ?) order by launch_id, person_id, kind, page, day for update", both);
  await tx.execute("select 1 from page_rollup where person_id in (?, ?) order by launch_id, page, person_id for update", both);
  const columns = `country, country_at, source, source_at, device, device_at, partner_id, ${stages.join(", ")}`;
  await tx.execute(
    `insert into stage_rollup as r (launch_id, person_id, ${columns}) select launch_id, ?, ${columns} from stage_rollup where person_id = ?
     on conflict (launch_id, person_id) do update set ${keepEarlierStages}`,
    [into, from],
  );
  await tx.execute("delete from stage_rollup where person_id = ?", [from]);
  await tx.execute(
    `insert into day_rollup as d (launch_id, person_id, kind, page, day, n) select launch_id, ?, kind, page, day, n from day_rollup where person_id = ?
     on conflict (launch_id, person_id, kind, page, day) do update set n = d.n + excluded.n`,
    [into, from],
  );
  await tx.execute("delete from day_rollup where person_id = ?", [from]);
  await tx.execute(
    `insert into page_rollup as r (launch_id, page, person_id, variant, seen_at, acted_at) select launch_id, page, ?, variant, seen_at, acted_at from page_rollup where person_id = ?
     on conflict (launch_id, page, person_id) do update set ${keepEarlierView}`,
    [into, from],
  );
  await tx.execute("delete from page_rollup where person_id = ?", [from]);
  await tx.execute(
    `insert into film_rollup as r (launch_id, page, film, person_id, quarters, at) select launch_id, page, film, ?, quarters, at from film_rollup where person_id = ?
     on conflict (launch_id, page, film, person_id) do update set quarters = greatest(r.quarters, excluded.quarters), at = least(r.at, excluded.at)`,
    [into, from],
  );
  await tx.execute("delete from film_rollup where person_id = ?", [from]);
  await tx.execute("insert into person_tag (person_id, tag, at) select ?, tag, at from person_tag where person_id = ? on conflict do nothing", [
    into,
    from,
  ]);
  await tx.execute("delete from person_tag where person_id = ?", [from]);
};
