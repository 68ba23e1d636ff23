import type { Queryable } from "../orm";

/** Work in the outbox, as whoever hands it over takes it. */
export interface DueWork {
  id: string;
  topic: string;
  payload: unknown;
  key: string | null;
  tries: number;
  due_at: Date;
  first_due_at: Date | null;
}

/** Lets one process at a time make the queues, until its connection ends. */
export const lockQueues = async (db: Queryable): Promise<void> => {
  await db.query("select pg_advisory_lock(748203)");
};

/** Says that a worker lives, and so do the jobs it has in hand: pg-boss gives up on those that began too long ago. */
export const beat = async (db: Queryable, worker: string, jobs: readonly string[]): Promise<void> => {
  await db.query("insert into worker (id) values ($1) on conflict (id) do update set beat_at = now()", [worker]);
  if (jobs.length > 0) await db.query("update pgboss.job set started_on = now() where state = 'active' and id = any($1)", [jobs]);
};

/** Forgets a worker that has ended. */
export const endBeat = async (db: Queryable, worker: string): Promise<void> => {
  await db.query("delete from worker where id = $1", [worker]);
};

/** Puts work that failed into the outbox again. Queued anew meanwhile, it stays as it was queued. */
export const putBackWork = async (
  db: Queryable,
  {
    topic,
    payload,
    key,
    dueAt,
    tries,
    because,
    firstDueAt,
  }: {
    topic: string;
    payload: unknown;
    key: string | null;
    dueAt: Date;
    tries: number;
    because: string;
    firstDueAt: string | Date;
  },
): Promise<void> => {
  await db.query(
    `insert into outbox (topic, payload, key, due_at, tries, failed_because, first_due_at) values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (key) do update set tries = excluded.tries, failed_because = excluded.failed_because, first_due_at = excluded.first_due_at`,
    [topic, payload, key, dueAt, tries, because, firstDueAt],
  );
};

/**
 * Takes work of some kinds that is due out of the outbox, the longest due first; what another process takes at this moment is
 * passed over. Kinds that this version of the program does not know stay where they are.
 */
export const takeDueWork = async (db: Queryable, topics: readonly string[], now: Date, most: number): Promise<DueWork[]> => {
  const { rows } = await db.query(
    `with due as (select id from outbox where due_at <= $1 and topic = any($3) order by due_at limit $2 for update skip locked)
     delete from outbox o using due where o.id = due.id returning o.*`,
    [now, most, topics],
  );
  return (rows as DueWork[]).sort((a, b) => a.due_at.getTime() - b.due_at.getTime());
};
