import type { EntityManager } from "../orm";
import type { PageComment } from "./tables";

/** Shows or hides a comment of a launch, with an answer where there is one. Answers whether there is such a comment. */
export const decideCommentOf = async (
  em: EntityManager,
  launchId: string,
  { id, state, decidedAt, decidedBy, reply }: Pick<PageComment, "id" | "state" | "decidedAt" | "decidedBy"> & { reply: string | undefined },
): Promise<boolean> => {
  const rows = await em.execute<object[]>(
    `update page_comment set state = ?, decided_at = ?, decided_by = ?, reply = coalesce(?, reply),
       replied_at = case when coalesce(?, reply) = '' then null when coalesce(?, reply) <> reply then ?::timestamptz else replied_at end
     where id = ? and launch_id = ? returning 1`,
    [state, decidedAt, decidedBy, reply ?? null, reply ?? null, reply ?? null, decidedAt, id, launchId],
  );
  return rows.length > 0;
};
