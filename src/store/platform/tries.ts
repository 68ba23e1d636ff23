import { LockMode } from "@mikro-orm/core";
import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import { RateLimit } from "./tables";

/** Counts one try under a key within the window that begins at `window`; answers how many there were, this one included. */
export const countTryWithin = async (em: EntityManager, key: string, window: Date): Promise<number> => {
  // A count of tries need not outlive a crash, so nobody waits for the disk; within a transaction that would hold for all of it.
  const unhurried = !em.isInTransaction();
  const one = unhurried ? "case when set_config('synchronous_commit', 'off', true) = 'off' then 1 end" : "1";
  const [row] = await prepared<{ tries: number }>(
    em,
    unhurried ? "count_try_unhurried" : "count_try",
    `insert into rate_limit (key, from_at, tries) values (?, ?, ${one})
     on conflict (key) do update set tries = case when rate_limit.from_at = excluded.from_at then rate_limit.tries + 1 else 1 end, from_at = excluded.from_at
     returning tries`,
    [key, window],
  );
  return row?.tries ?? 0;
};

/** The tries under a key, which nobody else counts until the transaction ends. */
export const lockedTries = async (tx: EntityManager, key: string, now: Date): Promise<RateLimit> => {
  await tx.execute("insert into rate_limit (key, from_at, tries) values (?, ?, 0) on conflict (key) do nothing", [key, now]);
  return tx.findOneOrFail(RateLimit, { key }, { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true });
};
