import type { EntityManager } from "../orm";
import type { ConditionScope } from "../../core/conditions";

export interface PageFigure {
  page: string;
  variant: string;
  /** Distinct people who saw it up to the instant. */
  people: number;
  /** Of them, those who opted in on it. */
  optedIn: number;
  /** Of them, those who began a checkout, and those who paid. */
  began: number;
  paid: number;
}

type Row = Record<"page" | "variant" | "people" | "opted_in" | "began" | "paid", string>;

/**
 * For each page of a launch (or one) and each variant of it: who saw it, and what they did afterwards, at whatever time up to the
 * scope's instant. As things are now the counters say it; at an instant of the past everybody who had come is counted.
 */
export const pageFigures = async (
  em: EntityManager,
  { launchId, now, past }: ConditionScope & { launchId: string },
  page?: string,
): Promise<PageFigure[]> => {
  const onPage = page === undefined ? "" : "and page = ?";
  const pages = page === undefined ? [] : [page];
  const rows = past
    ? // Only the few who went to the checkout are joined: joining everybody takes twice as long.
      await em.execute<Row[]>(
        `select r.page, r.variant, count(*) as people, count(*) filter (where r.acted_at <= ?) as opted_in,
           count(*) filter (where s.began) as began, count(*) filter (where s.paid) as paid
         from page_rollup r left join (
           select person_id, began_checkout <= ? as began, paid <= ? as paid from stage_rollup where launch_id = ? and (began_checkout <= ? or paid <= ?)
         ) s on s.person_id = r.person_id
         where r.launch_id = ? and r.seen_at <= ? ${onPage} group by 1, 2 order by 1, 2`,
        [now, now, now, launchId, now, now, launchId, now, ...pages],
      )
    : await em.execute<Row[]>(
        `select page, variant, sum(people) as people, sum(opted_in) as opted_in, sum(began) as began, sum(paid) as paid
         from page_count where launch_id = ? ${onPage} group by 1, 2 having sum(people) > 0 order by 1, 2`,
        [launchId, ...pages],
      );
  return rows.map((row) => ({
    page: row.page,
    variant: row.variant,
    people: Number(row.people),
    optedIn: Number(row.opted_in),
    began: Number(row.began),
    paid: Number(row.paid),
  }));
};
