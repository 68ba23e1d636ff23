import { counted } from "../../../core/figures";
import type { EntityManager } from "../../../store/orm";
import { prepared } from "../../../store/prepared";
import { forgottenAfterSeconds, waitSeconds, type TryRule } from "../../../core/access";
import { Refusal } from "../refusal";

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
    throw new Refusal(
      429,
      "too_many",
      `Too many tries. Wait ${inWords(seconds)} and try again; nothing was changed.`,
      {},
      {
        retryAfterSeconds: seconds,
      },
    );
};

/** Who sends a form: a browser that has been given its cookie, or somebody without one, at an address that many may share. */
export interface Sender {
  visitorId: string;
  from: string;
  /** Whether the browser has sent the cookie that it was given. */
  known?: boolean;
}

/**
 * Limits what one browser does within `seconds`; and what comes from one address, but many times wider: behind a proxy or
 * in an office it is the address of many buyers.
 */
export const limitSender = async (
  em: EntityManager,
  now: Date,
  what: string,
  { visitorId, from, known }: Sender,
  most: number,
  seconds: number,
): Promise<void> => {
  if (known) await limit(em, now, `${what}:browser:${visitorId}`, most, seconds);
  await limit(em, now, `${what}:${from}`, known === false ? 5 * most : 20 * most, seconds);
};

/** A row of tries: what they are counted under, and the rule that they go by. */
export interface Tries {
  key: string;
  rule: TryRule;
}

const inWords = (seconds: number): string => (seconds < 90 ? counted(seconds, "second") : counted(Math.ceil(seconds / 60), "minute"));

/**
 * Counts a try before it is made, under each of several keys, and refuses it while one of them must wait: longer with
 * each wrong try. Counted beforehand, so that many at once are not judged by the same count. `forgive` takes it back.
 */
export const countTry = (em: EntityManager, now: Date, tries: readonly Tries[], what: string): Promise<void> =>
  em.transactional(async (tx) => {
    let wait = 0;
    for (const { key, rule } of [...tries].sort((a, b) => a.key.localeCompare(b.key))) {
      await tx.execute("insert into rate_limit (key, from_at, tries) values (?, ?, 0) on conflict (key) do nothing", [key, now]);
      const [row] = await tx.execute<{ from_at: string; tries: number }[]>("select from_at, tries from rate_limit where key = ? for update", [key]);
      const since = (now.getTime() - new Date(row!.from_at).getTime()) / 1000;
      const before = since > forgottenAfterSeconds ? 0 : row!.tries;
      wait = Math.max(wait, waitSeconds(before, rule) - since);
      if (wait <= 0) await tx.execute("update rate_limit set tries = ?, from_at = ? where key = ?", [before + 1, now, key]);
    }
    if (wait > 0) {
      const retryAfterSeconds = Math.ceil(wait);
      throw new Refusal(
        429,
        "too_many",
        `${what} Try again in ${inWords(retryAfterSeconds)}. Whoever is signed in stays so.`,
        {},
        { retryAfterSeconds },
      );
    }
  });

/** Forgets the tries under some keys: the last one was right. */
export const forgive = async (em: EntityManager, keys: readonly string[]): Promise<void> => {
  await em.execute("delete from rate_limit where key = any(?::text[])", [`{${keys.map((key) => JSON.stringify(key)).join(",")}}`]);
};
