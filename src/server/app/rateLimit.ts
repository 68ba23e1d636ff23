import type { EntityManager } from "../../store/orm";
import { Refusal } from "./refusal";

const count = async (em: EntityManager, now: Date, key: string, seconds: number): Promise<number> => {
  const window = new Date(Math.floor(now.getTime() / (seconds * 1000)) * seconds * 1000);
  const [row] = await em.execute<{ tries: number }[]>(
    `insert into rate_limit (key, from_at, tries) values (?, ?, 1)
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
