import type { EntityManager } from "../orm";

export interface PersonStarts {
  personId: string;
  /** Every recorded start, in order; which of them count follows from the clock's rule. */
  starts: Date[];
  /** The clock was stopped for them by then. */
  stopped: boolean;
}

const slice = 5_000;

/**
 * Who had started a launch's personal clock by an instant, and when, in slices in the order of their ids: there may be more than a process
 * can hold. With `since`, only those of whom a start was recorded from then on.
 */
export async function* clockStarts(em: EntityManager, launchId: string, asOf: Date, since?: Date): AsyncGenerator<PersonStarts[]> {
  for (let after: string | undefined; ;) {
    const rows = await em.execute<{ person_id: string; starts: string[]; stopped: boolean }[]>(
      `select c.person_id, array_agg(to_char(c.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') order by c.at) as starts,
         exists (select from clock_stop s where s.launch_id = ? and s.person_id = c.person_id and s.at <= ?) as stopped
       from clock_start c where c.launch_id = ? and c.at <= ? and not c.superseded ${after ? "and c.person_id > ?" : ""}
       group by c.person_id ${since ? "having max(c.at) >= ?" : ""} order by c.person_id limit ${slice}`,
      [launchId, asOf, launchId, asOf, ...(after ? [after] : []), ...(since ? [since] : [])],
    );
    if (rows.length > 0) yield rows.map((row) => ({ personId: row.person_id, starts: row.starts.map((at) => new Date(at)), stopped: row.stopped }));
    if (rows.length < slice) return;
    after = rows.at(-1)!.person_id;
  }
}
