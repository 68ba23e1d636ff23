import type { EntityManager } from "../orm";

/** Who a visitor is, and which version of a page they saw; undefined for a visitor who has never been here. */
export const variantSeen = async (
  em: EntityManager,
  launchId: string,
  page: string,
  visitorId: string,
): Promise<{ personId: string; variant: string | null } | undefined> => {
  const [row] = await em.execute<{ person_id: string; variant: string | null }[]>(
    "select v.person_id, r.variant from visitor v left join page_rollup r on r.launch_id = ? and r.page = ? and r.person_id = v.person_id where v.id = ?",
    [launchId, page, visitorId],
  );
  return row && { personId: row.person_id, variant: row.variant };
};
