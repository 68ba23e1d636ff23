import type { EntityManager } from "../orm";

/** Ends mail to many to the contact of an email; whoever complained stays so. */
const suppressSql = /* sql */ `update contact set suppressed_at = ?, suppressed_because = ?
  where id in (select contact_id from email_message where id = ?) and erased_at is null and suppressed_because is distinct from 'complained'`;

/** Writes down that an email bounced, once; a hard one, or the last of many soft ones, ends mail to many to its contact. */
export const noteBounce = async (
  tx: EntityManager,
  emailId: string,
  { hard, says }: { hard: boolean; says: string },
  soft: { most: number; days: number },
  now: Date,
): Promise<void> => {
  const noted = await tx.execute<object[]>(
    "update email_message set bounce = ?, bounced_at = ?, return_says = ? where id = ? and (bounced_at is null or (bounce = 'soft' and ?)) returning 1",
    [hard ? "hard" : "soft", now, says, emailId, hard],
  );
  if (noted.length === 0) return;
  const [row] = await tx.execute<{ n: string }[]>(
    "select count(*) as n from email_message where contact_id = (select contact_id from email_message where id = ?) and bounced_at > ?",
    [emailId, new Date(now.getTime() - soft.days * 86_400_000)],
  );
  if (hard || Number(row!.n) >= soft.most) await tx.execute(suppressSql, [now, "bounced", emailId]);
};

/** Writes down that the reader of an email reported it, and unsubscribes them. */
export const noteComplaint = async (tx: EntityManager, emailId: string, says: string, now: Date): Promise<void> => {
  const noted = await tx.execute<object[]>(
    "update email_message set complained_at = ?, return_says = ? where id = ? and complained_at is null returning 1",
    [now, says, emailId],
  );
  if (noted.length === 0) return;
  await tx.execute(suppressSql, [now, "complained", emailId]);
  await tx.execute(
    "update contact set unsubscribed_at = coalesce(unsubscribed_at, ?) where id in (select contact_id from email_message where id = ?) and erased_at is null",
    [now, emailId],
  );
};

/** Mail to many goes to a contact again: the address was corrected, or proved to be read. */
export const endSuppression = async (em: EntityManager, contactId: string): Promise<void> => {
  await em.execute("update contact set suppressed_at = null, suppressed_because = null where id = ?", [contactId]);
};
