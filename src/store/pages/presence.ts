import type { EntityManager } from "../orm";

/** Notes that somebody has a page open, and answers who else had since an instant, with the version that is stored. */
export const notePresenceOn = async (
  em: EntityManager,
  pageId: string,
  userId: string,
  now: Date,
  since: Date,
): Promise<{ others: string[]; version: number }> => {
  await em.execute(
    `insert into page_presence (page_id, user_id, seen_at) select id, ?, ? from page where id = ?
     on conflict (page_id, user_id) do update set seen_at = excluded.seen_at`,
    [userId, now, pageId],
  );
  const rows = await em.execute<{ name: string | null; version: number }[]>(
    `select u.name, p.version from page p left join page_presence q on q.page_id = p.id and q.user_id <> ? and q.seen_at > ?
     left join desk_user u on u.id = q.user_id where p.id = ?`,
    [userId, since, pageId],
  );
  return { others: rows.flatMap(({ name }) => name ?? []), version: rows[0]?.version ?? 0 };
};
