import type { EntityManager } from "../orm";

/** Notes that somebody showed to read a contact's inbox: what was known of bounces is over. */
export const proveInbox = async (em: EntityManager, contactId: string, now: Date): Promise<void> => {
  await em.execute(
    `update contact set proven_at = coalesce(proven_at, ?), suppressed_at = case when suppressed_because = 'bounced' then null else suppressed_at end,
       suppressed_because = nullif(suppressed_because, 'bounced') where id = ?`,
    [now, contactId],
  );
};
