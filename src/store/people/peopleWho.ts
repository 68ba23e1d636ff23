import type { Condition, ConditionScope } from "../../core/conditions";
import type { EntityManager } from "../orm";
import { conditionSql } from "./conditionSql";

// Whom a launch knows has a row in its roll-up; of all launches, everybody who is not somebody else by now.
const known = ({ launchId }: ConditionScope) =>
  launchId === undefined
    ? { sql: "p.merged_into is null", values: [] }
    : { sql: "p.id in (select person_id from stage_rollup where launch_id = ?)", values: [launchId] };

/** How many people meet a condition. */
export const countPeopleWho = async (em: EntityManager, asked: Condition, scope: ConditionScope): Promise<number> => {
  const [who, meets] = [known(scope), conditionSql(asked, scope)];
  const [row] = await em.execute<{ n: string }[]>(`select count(*) as n from person p where ${who.sql} and ${meets.sql}`, [
    ...who.values,
    ...meets.values,
  ]);
  return Number(row!.n);
};

/** The ids of those who meet a condition, in the order of their ids: at most so many, after one of them. */
export const peopleWho = async (
  em: EntityManager,
  asked: Condition,
  scope: ConditionScope,
  { after, most }: { after?: string; most: number },
): Promise<string[]> => {
  const [who, meets] = [known(scope), conditionSql(asked, scope)];
  const rows = await em.execute<{ id: string }[]>(
    `select p.id from person p where ${who.sql} and ${meets.sql} ${after === undefined ? "" : "and p.id > ?"} order by 1 limit ?`,
    [...who.values, ...meets.values, ...(after === undefined ? [] : [after]), most],
  );
  return rows.map(({ id }) => id);
};
