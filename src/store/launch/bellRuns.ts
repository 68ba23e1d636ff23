import type { EntityManager } from "../orm";

export interface RungBellRow {
  key: string;
  /** When it was to ring, and when it did; ISO. */
  at: string;
  rungAt: string;
  outcome: string;
}

/** The bells of a launch that have rung, and what came of each. */
export const bellRuns = async (em: EntityManager, launchId: string): Promise<RungBellRow[]> => {
  const rows = await em.execute<{ key: string; at: string; ran_at: string; outcome: string }[]>(
    "select key, at, ran_at, outcome from bell_run where launch_id = ? order by at",
    [launchId],
  );
  return rows.map((row) => ({ key: row.key, at: new Date(row.at).toISOString(), rungAt: new Date(row.ran_at).toISOString(), outcome: row.outcome }));
};
