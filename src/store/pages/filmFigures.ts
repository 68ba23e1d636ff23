import type { ConditionScope } from "../../core/conditions";
import type { EntityManager } from "../orm";

/** Of a film on a page: how many people watched at least each quarter of it. */
export interface FilmFigure {
  page: string;
  film: string;
  /** People who watched 25, 50, 75 and 100 %. */
  reached: [number, number, number, number];
}

/** How far the films of a launch were watched. */
export const filmFigures = async (em: EntityManager, { launchId, now }: ConditionScope & { launchId: string }): Promise<FilmFigure[]> => {
  const rows = await em.execute<{ page: string; film: string; q1: string; q2: string; q3: string; q4: string }[]>(
    `select page, film, count(*) as q1, count(*) filter (where quarters >= 2) as q2, count(*) filter (where quarters >= 3) as q3,
       count(*) filter (where quarters >= 4) as q4
     from film_rollup where launch_id = ? and at <= ? group by 1, 2 order by 1, 2`,
    [launchId, now],
  );
  return rows.map(({ page, film, ...row }) => ({ page, film, reached: [Number(row.q1), Number(row.q2), Number(row.q3), Number(row.q4)] }));
};
