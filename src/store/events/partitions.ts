import type { EntityManager } from "../orm";

const week = 7 * 86_400_000;
// A Monday, so that parts begin on Mondays (UTC).
const origin = Date.UTC(2024, 0, 1);
const startOfWeek = (at: Date): number => origin + Math.floor((at.getTime() - origin) / week) * week;
const day = (ms: number) => new Date(ms).toISOString().slice(0, 10);

/**
 * Makes the event log's weekly parts from `from` to `to` where they are missing. Rows that fell into the part for the
 * rest meanwhile are moved along. Answers the parts that were made.
 */
export const ensureEventPartitions = async (em: EntityManager, from: Date, to: Date): Promise<string[]> => {
  const made: string[] = [];
  for (let start = startOfWeek(from); start <= to.getTime(); start += week) {
    const name = `event_${day(start).replaceAll("-", "_")}`;
    await em.transactional(async (tx) => {
      await tx.execute("select pg_advisory_xact_lock(748202)");
      const known = await tx.execute("select 1 from pg_class where relname = ? and relkind = 'r'", [name]);
      if (known.length > 0) return;
      const [a, b] = [day(start), day(start + week)];
      // What is written meanwhile waits: a row that came into the rest after it was emptied would not let the part be attached.
      await tx.execute("lock table event in share row exclusive mode");
      await tx.execute(`create table ${name} (like event including defaults)`);
      await tx.execute(
        `with moved as (delete from event_rest where at >= '${a}T00:00Z' and at < '${b}T00:00Z' returning *) insert into ${name} select * from moved`,
      );
      await tx.execute(`alter table event attach partition ${name} for values from ('${a}T00:00Z') to ('${b}T00:00Z')`);
      made.push(name);
    });
  }
  return made;
};

/**
 * Drops the weekly parts of the log that lie wholly before an instant, and what lies in the part for the rest before the first
 * that is left: the log is whole from there on. Answers how many parts went.
 */
export const dropEventsBefore = async (em: EntityManager, before: Date): Promise<number> =>
  em.transactional(async (tx) => {
    await tx.execute("select pg_advisory_xact_lock(748202)");
    const edge = new Date(startOfWeek(before));
    const parts = await tx.execute<{ name: string }[]>(
      "select c.relname as name from pg_inherits i join pg_class c on c.oid = i.inhrelid where i.inhparent = 'event'::regclass and c.relname ~ '^event_[0-9_]+$' order by 1",
    );
    const over = parts.filter(({ name }) => new Date(`${name.slice("event_".length).replaceAll("_", "-")}T00:00Z`) < edge);
    for (const { name } of over) await tx.execute(`drop table ${name}`);
    await tx.execute("delete from event_rest where at < ?", [edge]);
    await tx.execute("insert into event_edge (at) values (?) on conflict (singleton) do update set at = greatest(event_edge.at, excluded.at)", [
      edge,
    ]);
    return over.length;
  });

/** From when on the log is whole: nothing of it was dropped, or up to there. */
export const edgeOfLog = async (em: EntityManager): Promise<Date> => {
  const [row] = await em.execute<{ at: string }[]>("select at from event_edge");
  return row ? new Date(row.at) : new Date(0);
};
