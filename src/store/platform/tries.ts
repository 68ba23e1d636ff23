import { LockMode } from "@mikro-orm/core";
import type { EntityManager } from "../orm";
import { prepared } from "../prepared";
import { RateLimit } from "./tables";

const countOne = `on conflict (key) do update set tries = case when rate_limit.from_at = excluded.from_at then rate_limit.tries + 1 else 1 end, from_at = excluded.from_at
     returning tries`;

/** One try, as it is counted. It need not outlive a crash, so nobody waits for the disk; within a transaction that would hold for all of it. */
const oneTry = (em: EntityManager): { sql: string; named: string } =>
  em.isInTransaction()
    ? { sql: "1", named: "" }
    : { sql: "case when set_config('synchronous_commit', 'off', true) = 'off' then 1 end", named: "_unhurried" };

/** Counts one try under a key within the window that begins at `window`; answers how many there were, this one included. */
export const countTryWithin = async (em: EntityManager, key: string, window: Date): Promise<number> => {
  const one = oneTry(em);
  const [row] = await prepared<{ tries: number }>(
    em,
    `count_try${one.named}`,
    `insert into rate_limit (key, from_at, tries) values (?, ?, ${one.sql})
     ${countOne}`,
    [key, window],
  );
  return row?.tries ?? 0;
};

/**
 * Counts one try of a browser, and where it has not made more than `most` yet, one of all that share its address: what one sends beyond
 * its limit is not counted against the others. Answers both counts; undefined for the second where it was not counted.
 */
export const countTryOfBrowser = async (
  em: EntityManager,
  keys: { browser: string; address: string },
  most: number,
  window: Date,
): Promise<{ browser: number; address?: number }> => {
  const one = oneTry(em);
  const [row] = await prepared<{ own: number; shared: number | null }>(
    em,
    `count_try_of_browser${one.named}`,
    `with own as (insert into rate_limit (key, from_at, tries) values (?, ?, ${one.sql})
       ${countOne}),
     shared as (insert into rate_limit (key, from_at, tries) select ?, ?, 1 from own where own.tries <= ?
       ${countOne})
     select own.tries as own, (select tries from shared) as shared from own`,
    [keys.browser, window, keys.address, window, most],
  );
  return { browser: row?.own ?? 0, ...(row?.shared == null ? {} : { address: row.shared }) };
};

/** The tries under a key, which nobody else counts until the transaction ends. */
export const lockedTries = async (tx: EntityManager, key: string, now: Date): Promise<RateLimit> => {
  await tx.execute("insert into rate_limit (key, from_at, tries) values (?, ?, 0) on conflict (key) do nothing", [key, now]);
  return tx.findOneOrFail(RateLimit, { key }, { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true });
};
