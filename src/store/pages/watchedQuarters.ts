import type { EntityManager } from "../orm";
import type { FilmRollup } from "../events/tables";

/**
 * Notes how much of a film a person has watched, in quarters, where it is more than before. Answers how many they had
 * watched until now; undefined where this is no more.
 */
export const noteQuarters = async (tx: EntityManager, { launchId, page, film, personId, quarters, at }: FilmRollup): Promise<number | undefined> => {
  const [before] = await tx.execute<{ quarters: number }[]>(
    "select quarters from film_rollup where launch_id = ? and page = ? and film = ? and person_id = ? for update",
    [launchId, page, film, personId],
  );
  const from = before?.quarters ?? 0;
  if (from >= quarters) return undefined;
  const rows = await tx.execute<object[]>(
    `insert into film_rollup as r (launch_id, page, film, person_id, quarters, at) values (?, ?, ?, ?, ?, ?)
     on conflict (launch_id, page, film, person_id) do update set quarters = excluded.quarters, at = excluded.at where r.quarters < excluded.quarters returning 1`,
    [launchId, page, film, personId, quarters, at],
  );
  return rows.length > 0 ? from : undefined;
};
