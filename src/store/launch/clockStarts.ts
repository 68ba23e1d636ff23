import type { EntityManager } from "../orm";

export interface PersonStarts {
  personId: string;
  /** Every recorded start, in order; which of them count follows from the clock's rule. */
  starts: Date[];
  /** The clock was stopped for them by then. */
  stopped: boolean;
}

/** Who had started a launch's personal clock by an instant, and when. */
export const clockStarts = async (em: EntityManager, launchId: string, asOf: Date): Promise<PersonStarts[]> => {
  const rows = await em.execute<{ person_id: string; starts: string[]; stopped: boolean }[]>(
    `select c.person_id, array_agg(to_char(c.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') order by c.at) as starts,
       exists (select from clock_stop s where s.launch_id = ? and s.person_id = c.person_id and s.at <= ?) as stopped
     from clock_start c where c.launch_id = ? and c.at <= ? and not c.superseded group by c.person_id`,
    [launchId, asOf, launchId, asOf],
  );
  return rows.map((row) => ({ personId: row.person_id, starts: row.starts.map((at) => new Date(at)), stopped: row.stopped }));
};
