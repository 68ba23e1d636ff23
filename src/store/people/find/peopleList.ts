import type { Condition, ConditionScope } from "../../../core/conditions";
import { stages, type Stage } from "../../../core/events";
import type { EntityManager } from "../../orm";
import { peopleWho } from "./peopleWho";

export interface ListedPerson {
  id: string;
  /** Undefined for a visitor whose address is not known. */
  contact?: { firstName: string; email: string };
  country: string | null;
  source: string | null;
  /** The first time at each stage of the launch. */
  first: Partial<Record<Stage, Date>>;
}

type Row = { id: string; first_name: string | null; email: string | null; country: string | null; source: string | null } & Record<
  Stage,
  string | null
>;

/** People of a launch who meet a condition, in the order of their ids: at most so many, after one of them. */
export const peopleList = async (
  em: EntityManager,
  asked: Condition,
  scope: ConditionScope & { launchId: string },
  page: { after?: string | undefined; most: number },
): Promise<ListedPerson[]> => {
  const ids = await peopleWho(em, asked, scope, page);
  const rows = await em.execute<Row[]>(
    `select r.person_id as id, c.first_name, c.email, coalesce(c.country, r.country) as country, r.source, ${stages.map((stage) => `r.${stage}`).join(", ")}
     from stage_rollup r left join contact c on c.person_id = r.person_id where r.launch_id = ? and r.person_id = any(?::uuid[]) order by 1`,
    [scope.launchId, `{${ids.join(",")}}`],
  );
  return rows.map((row) => ({
    id: row.id,
    ...(row.email === null ? {} : { contact: { firstName: row.first_name ?? "", email: row.email } }),
    country: row.country,
    source: row.source,
    first: Object.fromEntries(stages.flatMap((stage) => (row[stage] ? [[stage, new Date(row[stage])]] : []))),
  }));
};
