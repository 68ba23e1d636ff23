import type { Condition, ConditionScope } from "../../../core/conditions";
import type { EntityManager } from "../../orm";
import { conditionSql, peopleIn } from "./conditionSql";

/** How many people meet a condition. */
export const countPeopleWho = async (em: EntityManager, asked: Condition, scope: ConditionScope): Promise<number> => {
  const [people, meets] = [peopleIn(scope), conditionSql(asked, scope)];
  const [row] = await em.execute<{ n: string }[]>(`select count(*) as n from ${people.sql} where ${meets.sql}`, [...people.values, ...meets.values]);
  return Number(row!.n);
};

/** Whether a person meets a condition. */
export const meets = async (em: EntityManager, asked: Condition, personId: string, now: Date): Promise<boolean> => {
  const found = conditionSql(asked, { now, among: `{${personId}}` });
  const rows = await em.execute<object[]>(`select 1 from (select ?::uuid as id) p where ${found.sql}`, [personId, ...found.values]);
  return rows.length > 0;
};

/** The ids of those who meet a condition, in the order of their ids: at most so many, after one of them. */
export const peopleWho = async (
  em: EntityManager,
  asked: Condition,
  scope: ConditionScope,
  { after, most }: { after?: string | undefined; most: number },
): Promise<string[]> => {
  const [people, meets] = [peopleIn(scope), conditionSql(asked, scope)];
  const rows = await em.execute<{ id: string }[]>(
    `select p.id from ${people.sql} where ${meets.sql} ${after === undefined ? "" : "and p.id > ?"} order by 1 limit ?`,
    [...people.values, ...meets.values, ...(after === undefined ? [] : [after]), most],
  );
  return rows.map(({ id }) => id);
};
