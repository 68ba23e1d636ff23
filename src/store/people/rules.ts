import type { Condition } from "../../core/conditions";
import { eventKinds } from "../../core/conditions";
import type { RuleAction } from "../../core/people";
import type { EntityManager } from "../orm";
import { conditionSql, type Sql } from "./find/conditionSql";

/** More than so many at once are not looked for one by one: everybody is asked then. */
export const mostChanged = 5_000;

/**
 * People for whom something changed since an instant that a condition may ask for: something they did, a tag, a link that they followed in an email, or a new record. Undefined where they
 * are too many to tell one by one.
 */
export const changedPeople = async (em: EntityManager, since: Date): Promise<string[] | undefined> => {
  const rows = await em.execute<{ id: string }[]>(
    `select coalesce(m.merged_into, m.id) as id from (
       select x.person_id from launch l cross join unnest(?::text[]) as k(kind) cross join lateral (
         select e.person_id from event e where e.launch_id = l.id and e.kind = k.kind and e.at >= ?) x
       union select person_id from person_tag where at >= ?
       union select person_id from contact where created_at >= ?
       union select k.person_id from email_click c join email_message m on m.id = c.email_id join contact k on k.id = m.contact_id
         where c.counts_at >= ? and not c.machine
     ) c join person m on m.id = c.person_id group by 1 limit ${mostChanged + 1}`,
    [`{${eventKinds.join(",")}}`, since, since, since, since],
  );
  return rows.length > mostChanged ? undefined : rows.map(({ id }) => id);
};

const actionSql = (action: RuleAction, now: Date): Sql => {
  switch (action.does) {
    case "tag":
      return {
        sql: "insert into person_tag (person_id, tag, at) select person_id, ?, ? from met on conflict do nothing",
        values: [action.tag, now],
      };
    case "untag":
      return { sql: "delete from person_tag where tag = ? and person_id in (select person_id from met)", values: [action.tag] };
    case "fill":
      return {
        sql: "update contact set answers = answers || jsonb_build_object(?::text, ?::text) where not test and person_id in (select person_id from met)",
        values: [action.field, action.value],
      };
    case "leave":
      return {
        sql: `insert into launch_opt_out (contact_id, launch_id, at, made_by)
           select c.id, ?::uuid, ?, 'rule' from contact c where not c.test and c.person_id in (select person_id from met) and exists (select from launch where id = ?) on conflict do nothing`,
        values: [action.launch, now, action.launch],
      };
  }
};

/**
 * Has a rule deal with whoever meets its condition and was not dealt with before; `among` some people, or everybody with an address. Without an
 * action they are noted as those who met it before the rule was made. Answers how many they are.
 */
export const dealWith = async (
  tx: EntityManager,
  rule: { id: string; condition: Condition },
  action: RuleAction | undefined,
  now: Date,
  among?: readonly string[],
): Promise<number> => {
  const ids = among && `{${among.join(",")}}`;
  const asked = conditionSql(rule.condition, { now, ...(ids === undefined ? {} : { among: ids }) });
  const acts = action && actionSql(action, now);
  const [row] = await tx.execute<{ n: string }[]>(
    `with met as (
       insert into people_rule_person (rule_id, person_id, at, applied)
       select ?, c.person_id, ?, ? from contact c cross join lateral (select c.person_id as id) p
       where not c.test and c.erased_at is null and c.merged_into is null ${ids === undefined ? "" : "and c.person_id = any(?::uuid[])"} and ${asked.sql}
         and not exists (select from people_rule_person d where d.rule_id = ? and d.person_id = c.person_id)
       on conflict do nothing returning person_id
     )${acts ? `, acted as (${acts.sql})` : ""} select count(*) as n from met`,
    [rule.id, now, action !== undefined, ...(ids === undefined ? [] : [ids]), ...asked.values, rule.id, ...(acts?.values ?? [])],
  );
  return Number(row!.n);
};

/** How many people each rule has dealt with. */
export const dealtWith = async (em: EntityManager): Promise<Record<string, number>> => {
  const rows = await em.execute<{ rule_id: string; n: string }[]>("select rule_id, count(*) as n from people_rule_person where applied group by 1");
  return Object.fromEntries(rows.map(({ rule_id, n }) => [rule_id, Number(n)]));
};
