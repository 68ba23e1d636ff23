import type { EntityManager } from "../orm";

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

/**
 * For each page of a launch (or one) and each version of it: who saw it, and what they did afterwards, at whatever time up to the
 * instant. Only the few who went to the checkout are joined: joining everybody takes twice as long.
 */
export const pageFigures = async (em: EntityManager, launchId: string, asOf: Date, page?: string): Promise<PageFigure[]> => {
  const rows = await em.execute<{ page: string; variant: string; people: string; opted_in: string; began: string; paid: string }[]>(
    `select r.page, r.variant, count(*) as people, count(*) filter (where r.acted_at <= ?) as opted_in,
       count(*) filter (where s.began) as began, count(*) filter (where s.paid) as paid
     from page_rollup r left join (
       select person_id, began_checkout <= ? as began, paid <= ? as paid from stage_rollup where launch_id = ? and (began_checkout <= ? or paid <= ?)
     ) s on s.person_id = r.person_id
     where r.launch_id = ? and r.seen_at <= ? ${page === undefined ? "" : "and r.page = ?"} group by 1, 2 order by 1, 2`,
    [asOf, asOf, asOf, launchId, asOf, asOf, launchId, asOf, ...(page === undefined ? [] : [page])],
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
