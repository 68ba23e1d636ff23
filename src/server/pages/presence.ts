import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed } from "../platform";

/** Someone who is heard of no more for this long has left. */
const goneAfterMs = 25_000;

/** Says that somebody has a page open in the editor, and answers who else has, with the version that is stored. */
export const notePresence = async (em: EntityManager, user: DeskUser, pageId: string, now: Date): Promise<{ others: string[]; version: number }> => {
  mustBeAllowed(user, "page.edit");
  await em.execute(
    `insert into page_presence (page_id, user_id, seen_at) select id, ?, ? from page where id = ?
     on conflict (page_id, user_id) do update set seen_at = excluded.seen_at`,
    [user.id, now, pageId],
  );
  const rows = await em.execute<{ name: string; version: number }[]>(
    `select u.name, p.version from page p left join page_presence q on q.page_id = p.id and q.user_id <> ? and q.seen_at > ?
     left join desk_user u on u.id = q.user_id where p.id = ?`,
    [user.id, new Date(now.getTime() - goneAfterMs), pageId],
  );
  return { others: rows.map(({ name }) => name).filter(Boolean), version: rows[0]?.version ?? 0 };
};
