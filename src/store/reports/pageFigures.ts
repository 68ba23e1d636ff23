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

/** For each page of a launch and each version of it: who saw it, and what they did afterwards, at whatever time up to the instant. */
export const pageFigures = async (em: EntityManager, launchId: string, asOf: Date): Promise<PageFigure[]> => {
  const rows = await em.execute<{ page: string; variant: string; people: string; opted_in: string; began: string; paid: string }[]>(
    `select r.page, r.variant, count(*) as people, count(*) filter (where r.acted_at <= ?) as opted_in,
       count(*) filter (where s.began_checkout <= ?) as began, count(*) filter (where s.paid <= ?) as paid
     from page_rollup r left join stage_rollup s on s.launch_id = r.launch_id and s.person_id = r.person_id
     where r.launch_id = ? and r.seen_at <= ? group by 1, 2 order by 1, 2`,
    [asOf, asOf, asOf, launchId, asOf],
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
