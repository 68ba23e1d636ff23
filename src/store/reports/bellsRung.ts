import type { EntityManager } from "../orm";

export interface RungBellRow {
  key: string;
  /** When it was to ring, and when it did; ISO. */
  at: string;
  rungAt: string;
  outcome: string;
}

/** The bells of a launch that have rung, and what came of each. */
export const bellsRung = async (em: EntityManager, launchId: string): Promise<RungBellRow[]> => {
  const rows = await em.execute<{ key: string; at: string; rung_at: string; outcome: string }[]>(
    "select key, at, rung_at, outcome from bell_rung where launch_id = ? order by at",
    [launchId],
  );
  return rows.map((row) => ({ key: row.key, at: new Date(row.at).toISOString(), rungAt: new Date(row.rung_at).toISOString(), outcome: row.outcome }));
};
