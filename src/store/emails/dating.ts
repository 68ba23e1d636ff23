import type { EntityManager } from "../orm";

/** What went to people within a span before an instant, and which last calls go to them within the same span after it. */
export const mailOf = async (
  em: EntityManager,
  contactIds: readonly string[],
  now: Date,
  spanMs: number,
): Promise<Map<string, { sent: Date[]; lastCalls: Date[] }>> => {
  const rows = await em.execute<{ contact_id: string; at: string; ahead: boolean }[]>(
    `select contact_id, coalesce(sent_at, handed_at, due_at) as at, false as ahead from email_message
     where contact_id = any(?::uuid[]) and bulk and state in ('sent', 'unknown') and coalesce(sent_at, handed_at, due_at) > ?
     union all select contact_id, due_at, true from email_message where contact_id = any(?::uuid[]) and last_call and state = 'due' and due_at < ?`,
    [`{${contactIds.join(",")}}`, new Date(now.getTime() - spanMs), `{${contactIds.join(",")}}`, new Date(now.getTime() + spanMs)],
  );
  const found = new Map<string, { sent: Date[]; lastCalls: Date[] }>();
  for (const { contact_id, at, ahead } of rows) {
    const of = found.get(contact_id) ?? { sent: [], lastCalls: [] };
    (ahead ? of.lastCalls : of.sent).push(new Date(at));
    found.set(contact_id, of);
  }
  return found;
};

/** Has what waits on the bells of a launch looked at anew: when it goes is found out then. */
export const redateBellEmails = async (em: EntityManager, launchId: string, now: Date): Promise<void> => {
  await em.execute("update email_message set due_at = ? where launch_id = ? and kind = 'bell' and state = 'due' and due_at > ?", [
    now,
    launchId,
    now,
  ]);
};
/** Has the last calls that wait for somebody looked at anew, whose zone has changed. */
export const redateLastCalls = async (em: EntityManager, contactId: string, now: Date): Promise<void> => {
  await em.execute("update email_message set due_at = ? where contact_id = ? and last_call and state = 'due' and due_at > ?", [now, contactId, now]);
};
