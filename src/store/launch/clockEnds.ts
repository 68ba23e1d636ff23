import type { EntityManager } from "../orm";

/** The runs of a launch's personal clock (`?`) that ended by an instant (`?`) and were not stopped before: the person, when each ended, and when that was found out. */
export const endedClocks = /* sql */ `select s.person_id, s.ends_at, s.dated_at from clock_start s where s.launch_id = ? and s.ends_at <= ? and not s.superseded
  and not exists (select from clock_stop x where x.launch_id = s.launch_id and x.person_id = s.person_id and x.at < s.ends_at)`;

/** The launches with starts of which it was not found out yet when the run ends that they began. */
export const launchesToDate = async (em: EntityManager): Promise<string[]> =>
  (await em.execute<{ launch_id: string }[]>("select distinct launch_id from clock_start where dated_at is null and not superseded")).map(
    ({ launch_id }) => launch_id,
  );

/** Some people of a launch with such starts, each with every start of theirs that counts, locked until the transaction ends; people whom another worker dates are left to it. */
export const startsToDate = async (tx: EntityManager, launchId: string, most: number): Promise<{ id: string; personId: string; at: Date }[]> => {
  const rows = await tx.execute<{ id: string; person_id: string; at: string }[]>(
    `with those as (select id, person_id from clock_start where launch_id = ? and dated_at is null and not superseded order by person_id limit ${most} for update skip locked)
     select s.id, s.person_id, to_char(s.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as at from clock_start s
     where s.launch_id = ? and not s.superseded and s.person_id in (select person_id from those) order by s.person_id, s.at`,
    [launchId, launchId],
  );
  return rows.map(({ id, person_id, at }) => ({ id, personId: person_id, at: new Date(at) }));
};

/** Writes when the runs end that starts began; null for a start that began none. */
export const dateStarts = async (tx: EntityManager, ends: readonly { id: string; endsAt: Date | null }[], now: Date): Promise<void> => {
  await tx.execute(
    "update clock_start s set ends_at = d.ends_at, dated_at = ? from jsonb_to_recordset(?::jsonb) as d(id uuid, ends_at timestamptz) where s.id = d.id",
    [now, JSON.stringify(ends.map(({ id, endsAt }) => ({ id, ends_at: endsAt?.toISOString() ?? null })))],
  );
};

/** Has the ends of a launch's clocks found out anew, after its settings were changed: of those that run by now, or would by then. */
export const dateAgain = async (em: EntityManager, launchId: string, since: Date): Promise<void> => {
  await em.execute("update clock_start set dated_at = null where launch_id = ? and at >= ?", [launchId, since]);
};
