import { randomUUID } from "node:crypto";
import { clickSettlesMs, followedByMachine } from "../../core/emails";
import type { EntityManager } from "../orm";
import { EmailClick } from "../tables";

/** Notes that the pictures of an email were fetched, the first time. */
export const noteOpened = async (em: EntityManager, emailId: string, now: Date): Promise<void> => {
  await em.execute("update email_message set opened_at = ? where id = ? and state in ('sent', 'unknown') and opened_at is null", [now, emailId]);
};

/** Notes that a contact unsubscribed by the link of an email of theirs, the first time. */
export const noteLeft = async (em: EntityManager, emailId: string, contactId: string, now: Date): Promise<void> => {
  await em.execute("update email_message set left_at = ? where id = ? and contact_id = ? and left_at is null", [now, emailId, contactId]);
};

interface Click {
  emailId: string;
  link: string;
  /** Of a program by what it says of itself. */
  machine: boolean;
  /** Whether it leads to a page of ours, which says that it was seen. */
  toPage: boolean;
}

const settled = (now: Date): Date => new Date(now.getTime() + clickSettlesMs);

/**
 * Notes that a link of an email was followed, and answers the click's id. Where it turns out that a program follows them all, the ones before count no
 * more. Clicks of one email are noted one after the other, so that none is missed.
 */
export const noteClick = async (em: EntityManager, { emailId, link, machine, toPage }: Click, now: Date): Promise<string> =>
  em.transactional(async (tx) => {
    await tx.execute("select pg_advisory_xact_lock(hashtextextended(?, 0))", [`email_click:${emailId}`]);
    const before = await tx.find(EmailClick, { emailId, at: { $gt: new Date(now.getTime() - 60_000) } });
    const swept = followedByMachine([...before, { link, at: now }]);
    if (swept) for (const one of before) one.machine = true;
    const click = tx.create(EmailClick, {
      id: randomUUID(),
      emailId,
      link,
      at: now,
      countsAt: machine || toPage ? null : settled(now),
      machine: machine || swept,
    });
    tx.persist(click);
    return click.id;
  });

/** Notes that the page of a click was seen: from a little later on it counts as a person's. Who has read it, has opened the email. */
export const noteSeen = async (em: EntityManager, clickId: string, now: Date): Promise<void> => {
  await em.execute(
    `with seen as (update email_click set counts_at = ? where id = ? and counts_at is null and not machine returning email_id)
     update email_message set opened_at = ? where id in (select email_id from seen) and opened_at is null`,
    [settled(now), clickId, now],
  );
};
