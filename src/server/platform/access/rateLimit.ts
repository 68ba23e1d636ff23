import { RateLimit } from "../../../store/tables";
import { countTryOfBrowser, countTryWithin, lockedTries } from "../../../store/platform/tries";
import { type Tried } from "../../../core/words";
import type { EntityManager } from "../../../store/orm";
import { forgottenAfterSeconds, waitSeconds, type TryRule } from "../../../core/access";
import { Refusal } from "../refusal";

const windowOf = (now: Date, seconds: number): Date => new Date(Math.floor(now.getTime() / (seconds * 1000)) * seconds * 1000);
const count = (em: EntityManager, now: Date, key: string, seconds: number): Promise<number> => countTryWithin(em, key, windowOf(now, seconds));

/** Counts one try under `key`, and says whether it is one of the first `most` within `seconds`. For limits that must not show. */
export const mayGoOn = async (em: EntityManager, now: Date, key: string, most: number, seconds: number): Promise<boolean> =>
  (await count(em, now, key, seconds)) <= most;

const tooMany = (seconds: number): Refusal => new Refusal({ code: "too_many", tried: "request", retryAfterSeconds: seconds });

/**
 * Counts one try under `key` and refuses with 429 beyond `most` within `seconds`. The count lives in the database,
 * because several processes share it and it must obey the app's clock.
 */
export const limit = async (em: EntityManager, now: Date, key: string, most: number, seconds: number): Promise<void> => {
  if ((await count(em, now, key, seconds)) > most) throw tooMany(seconds);
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
  const address = `${what}:${from}`;
  if (!known) return limit(em, now, address, known === false ? 5 * most : 20 * most, seconds);
  const tries = await countTryOfBrowser(em, { browser: `${what}:browser:${visitorId}`, address }, most, windowOf(now, seconds));
  if (tries.browser > most || (tries.address ?? 0) > 20 * most) throw tooMany(seconds);
};

/** A row of tries: what they are counted under, and the rule that they go by. */
export interface Tries {
  key: string;
  rule: TryRule;
}

/**
 * Counts a try before it is made, under each of several keys, and refuses it while one of them must wait: longer with
 * each wrong try. Counted beforehand, so that many at once are not judged by the same count. `forgive` takes it back.
 */
export const countTry = (em: EntityManager, now: Date, tries: readonly Tries[], what: Tried): Promise<void> =>
  em.transactional(async (tx) => {
    let wait = 0;
    for (const { key, rule } of [...tries].sort((a, b) => a.key.localeCompare(b.key))) {
      const counted = await lockedTries(tx, key, now);
      const since = (now.getTime() - counted.fromAt.getTime()) / 1000;
      const before = since > forgottenAfterSeconds ? 0 : counted.tries;
      wait = Math.max(wait, waitSeconds(before, rule) - since);
      if (wait <= 0) await tx.nativeUpdate(RateLimit, { key }, { tries: before + 1, fromAt: now });
    }
    if (wait > 0) {
      const retryAfterSeconds = Math.ceil(wait);
      throw new Refusal({ code: "too_many", tried: what, retryAfterSeconds });
    }
  });

/** Forgets the tries under some keys: the last one was right. */
export const forgive = async (em: EntityManager, keys: readonly string[]): Promise<void> => {
  await em.nativeDelete(RateLimit, { key: { $in: [...keys] } });
};
