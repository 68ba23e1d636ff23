import type { Condition, ConditionScope } from "../../../core/conditions";
import type { PeopleSort, PersonRow } from "../../../core/people";
import { anywhere, readCursor, writeCursor, type KeyType } from "../../cursor";
import type { EntityManager } from "../../orm";
import { conditionSql, type Sql } from "./conditionSql";

interface Narrowed {
  /** Part of a name or an address; empty finds everybody. */
  find: string;
  /** The condition that they meet. */
  who?: Condition | undefined;
}
export interface PeoplePage extends Narrowed {
  by: PeopleSort;
  down: boolean;
  most: number;
  /** What the earlier part answered as `next`. */
  after?: string | undefined;
}

const paid = (of: string) =>
  `(select coalesce(sum(n.gross_minor), 0) from sale_order s join order_line n on n.order_id = s.id where s.contact_id = ${of} and not s.test and s.placed_at <= ?)`;

/** What each column is sorted by, and its type. Those alike in it stand by their ids. Sums are of several currencies: sorted by them, the largest figure comes first. */
const keys: Record<PeopleSort, readonly [sql: string, type: KeyType]> = {
  name: ["lower(c.first_name || ' ' || c.last_name)", "text"],
  email: ["c.email", "text"],
  country: ["coalesce(c.country, '')", "text"],
  since: ["c.created_at", "timestamptz"],
  spent: [paid("c.id"), "bigint"],
};

/** Narrows the contacts `c` of a statement. */
const found = ({ find, who }: Narrowed, scope: ConditionScope): Sql => {
  const parts: Sql[] = [];
  if (find.trim() !== "") {
    const like = anywhere(find);
    // Each its own list, so that each can be found by its own index.
    parts.push({
      sql: "c.id in (select coalesce(merged_into, id) from contact where email like ? or lower(first_name) like ? union all select coalesce(merged_into, id) from contact where lower(last_name) like ?)",
      values: [like, like, like],
    });
  }
  if (who) parts.push(conditionSql(who, scope));
  return { sql: parts.map((part) => `and ${part.sql}`).join(" "), values: parts.flatMap(({ values }) => values) };
};
// Conditions are asked of people named `p`.
const contacts = "contact c cross join lateral (select c.person_id as id) p";

// Who stands in the list of people up to an instant, and who of them may be written to then.
const listed = "not c.test and c.erased_at is null and c.merged_into is null and c.created_at <= ?";
const mayWrite = "coalesce(c.consent_at <= ? and coalesce(least(c.unsubscribed_at, c.suppressed_at), 'infinity') > ?, false)";

/** How many people with an address there are, up to an instant, and how many of them may be written to. */
export const peopleCount = async (em: EntityManager, narrowed: Narrowed, scope: ConditionScope): Promise<{ all: number; mayWrite: number }> => {
  const { sql, values } = found(narrowed, scope);
  const asOf = scope.now;
  const [row] = await em.execute<{ n: string; may: string }[]>(
    `select count(*) as n, count(*) filter (where ${mayWrite}) as may from ${contacts} where ${listed} ${sql}`,
    [asOf, asOf, asOf, ...values],
  );
  return { all: Number(row!.n), mayWrite: Number(row!.may) };
};

/** Tags or untags everybody who is found; how many of them it changed. */
export const tagAllFound = async (
  em: EntityManager,
  narrowed: Narrowed,
  { tag, set }: { tag: string; set: boolean },
  scope: ConditionScope,
): Promise<number> => {
  const { sql, values } = found(narrowed, scope);
  const people = `select c.person_id from ${contacts} where ${listed} ${sql}`;
  const rows = await em.execute<object[]>(
    set
      ? `insert into person_tag (person_id, tag, at) select w.person_id, ?, ? from (${people}) w on conflict do nothing returning 1`
      : `delete from person_tag where tag = ? and at <= ? and person_id in (${people}) returning 1`,
    [tag, scope.now, scope.now, ...values],
  );
  return rows.length;
};

type Row = {
  id: string;
  name: string;
  email: string;
  country: string | null;
  since: string;
  may_write: boolean;
  tags: string[];
  orders: string;
  spent: { currency: string; minor: number }[];
  key_text: string;
  all_found?: string;
  may_found?: string;
};

/**
 * People with an address who are found, part by part. Which of them stand on the part is found out first. Where a condition narrows them, whoever
 * meets it is found out once, for the part and for how many they are: `counts`.
 */
export const peoplePage = async (
  em: EntityManager,
  { find, who, by, down, most, after }: PeoplePage,
  scope: ConditionScope,
): Promise<{ people: PersonRow[]; next: string | undefined; counts?: { all: number; mayWrite: number } }> => {
  const asOf = scope.now;
  const [key, type] = keys[by];
  const ofKey = key.includes("?") ? [asOf] : [];
  const behind = readCursor(after, type, "uuid");
  const order = `order by key ${down ? "desc" : "asc"}, id ${down ? "desc" : "asc"}`;
  const { sql, values } = found({ find, who }, scope);
  const everybody = { sql: `from ${contacts} where ${listed} ${sql}`, values: [asOf, ...values] };
  const matched = who && {
    sql: `matched as materialized (select c.id, ${mayWrite} as may_write ${everybody.sql}),`,
    values: [asOf, asOf, ...everybody.values],
  };
  const from = matched ? { sql: "from matched m join contact c on c.id = m.id where true", values: [] } : everybody;
  const rows = await em.execute<Row[]>(
    `with ${matched?.sql ?? ""} part as materialized (
       select c.id, ${key} as key ${from.sql}
       ${behind ? `and (${key}, c.id) ${down ? "<" : ">"} (?::${type}, ?::uuid)` : ""} ${order} limit ${Math.trunc(most)}
     )
     select c.person_id as id, trim(c.first_name || ' ' || c.last_name) as name, c.email, c.country, c.created_at as since, part.key::text as key_text, c.id as contact,
       ${mayWrite} as may_write,
       array(select g.tag from person_tag g where g.person_id = c.person_id and g.at <= ? order by g.tag) as tags,
       (select count(*) from sale_order s where s.contact_id = c.id and not s.test and s.placed_at <= ?) as orders,
       (select coalesce(jsonb_agg(x), '[]') from (select s.currency, sum(n.gross_minor)::bigint as minor from sale_order s join order_line n on n.order_id = s.id
          where s.contact_id = c.id and not s.test and s.placed_at <= ? group by 1 order by 1) x) as spent
       ${matched ? ", (select count(*) from matched) as all_found, (select count(*) from matched where may_write) as may_found" : ""}
     from part join contact c on c.id = part.id ${order.replace("key", "part.key").replace("id", "part.id")}`,
    [...(matched?.values ?? []), ...ofKey, ...from.values, ...(behind ? [...ofKey, ...behind] : []), asOf, asOf, asOf, asOf, asOf],
  );
  const people = rows.map(({ id, name, email, country, since, may_write: mayWrite, tags, orders, spent }) => ({
    id,
    name,
    email,
    country: country ?? "",
    since: new Date(since),
    mayWrite,
    tags,
    orders: Number(orders),
    spent,
  }));
  const last = rows.at(-1) as (Row & { contact: string }) | undefined;
  return {
    people,
    next: last && rows.length === most ? writeCursor([last.key_text, last.contact]) : undefined,
    ...(matched && (last || !behind) ? { counts: { all: Number(last?.all_found ?? 0), mayWrite: Number(last?.may_found ?? 0) } } : {}),
  };
};
