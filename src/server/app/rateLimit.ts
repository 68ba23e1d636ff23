import type { EntityManager } from "../../store/orm";
import { prepared } from "../../store/statements/prepared";
import { Refusal } from "./refusal";

const count = async (em: EntityManager, now: Date, key: string, seconds: number): Promise<number> => {
  const window = new Date(Math.floor(now.getTime() / (seconds * 1000)) * seconds * 1000);
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

/** Counts one try under `key`, and says whether it is one of the first `most` within `seconds`. For limits that must not show. */
export const mayGoOn = async (em: EntityManager, now: Date, key: string, most: number, seconds: number): Promise<boolean> =>
  (await count(em, now, key, seconds)) <= most;

/**
 * Counts one try under `key` and refuses with 429 beyond `most` within `seconds`. The count lives in the database,
 * because several processes share it and it must obey the app's clock.
 */
export const limit = async (em: EntityManager, now: Date, key: string, most: number, seconds: number): Promise<void> => {
  if ((await count(em, now, key, seconds)) > most)
    throw new Refusal(429, "too_many", `Too many tries. Wait ${Math.ceil(seconds / 60)} minutes and try again; nothing was changed.`);
};
