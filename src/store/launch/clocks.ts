import type { EntityManager } from "../orm";

/** Instants at which clocks of a launch were started for any of these people, or in this very browser; those that count no more are left out. */
export const startsOf = async (em: EntityManager, launchId: string, people: string[], visitorId: string | undefined): Promise<Date[]> => {
  const rows = await em.execute<{ at: string }[]>(
    "select at from clock_start where launch_id = ? and not superseded and (person_id = any(?::uuid[]) or visitor_id = ?::uuid) order by at",
    [launchId, `{${people.join(",")}}`, visitorId ?? null],
  );
  return rows.map(({ at }) => new Date(at));
};

/** When a person's clock of a launch was stopped, and the address of the launch that took over. */
export const stopOf = async (em: EntityManager, launchId: string, personId: string): Promise<{ at: Date; handedTo?: string } | undefined> => {
  const [row] = await em.execute<{ at: string; slug: string | null }[]>(
    "select s.at, l.slug from clock_stop s left join launch l on l.id = s.handed_to where s.launch_id = ? and s.person_id = ? order by s.at limit 1",
    [launchId, personId],
  );
  return row && { at: new Date(row.at), ...(row.slug ? { handedTo: row.slug } : {}) };
};

/** One start at a time for a person, until the transaction ends: two requests at once would both find none. */
export const lockStarts = async (tx: EntityManager, launchId: string, personId: string): Promise<void> => {
  await tx.execute("select pg_advisory_xact_lock(hashtextextended(?, 7))", [`${launchId}${personId}`]);
};

export interface ClockStart {
  id: string;
  launchId: string;
  personId: string;
  visitorId?: string;
  at: Date;
  /** What started it. */
  trigger: string;
}

/** Keeps a start of a clock; the same one twice is one. */
export const addStart = async (em: EntityManager, { id, launchId, personId, visitorId, at, trigger }: ClockStart): Promise<void> => {
  await em.execute("insert into clock_start (id, launch_id, person_id, visitor_id, at, trigger) values (?, ?, ?, ?, ?, ?) on conflict do nothing", [
    id,
    launchId,
    personId,
    visitorId ?? null,
    at,
    trigger,
  ]);
};

/** Keeps that a person's clock stopped. Answers whether it had not stopped before: the first stop holds. */
export const addStop = async (
  em: EntityManager,
  { launchId, personId, at, because, handTo }: { launchId: string; personId: string; at: Date; because: string; handTo: string | null },
): Promise<boolean> => {
  const rows = await em.execute<object[]>(
    "insert into clock_stop (launch_id, person_id, at, because, handed_to) values (?, ?, ?, ?, ?) on conflict do nothing returning 1",
    [launchId, personId, at, because, handTo],
  );
  return rows.length > 0;
};

/** Starts of a contact's clock count for another person as well. More starts never lengthen a deadline. */
export const shareStarts = async (em: EntityManager, launchId: string, contactId: string, personId: string): Promise<void> => {
  await em.execute(
    `insert into clock_start (id, launch_id, person_id, at, trigger)
     select gen_random_uuid(), s.launch_id, ?, s.at, s.trigger from clock_start s join contact c on c.person_id = s.person_id
     where s.launch_id = ? and not s.superseded and c.id = ? and c.person_id <> ? on conflict do nothing`,
    [personId, launchId, contactId, personId],
  );
};
