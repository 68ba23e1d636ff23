import type { EntityManager } from "../orm";

const pair = (launchId: string, contactId: string): string => `${launchId}/${contactId}`;

/** Which of some contacts have bought, and where: a question that is asked once and answered for each pair. */
export const buyersAmong = async (em: EntityManager, contactIds: readonly string[]): Promise<(launchId: string, contactId: string) => boolean> => {
  if (contactIds.length === 0) return () => false;
  const rows = await em.execute<{ launch_id: string; contact_id: string }[]>(
    "select distinct launch_id, contact_id from sale_order where contact_id = any(?::uuid[]) and not test",
    [`{${contactIds.join(",")}}`],
  );
  const bought = new Set(rows.map((row) => pair(row.launch_id, row.contact_id)));
  return (launchId, contactId) => bought.has(pair(launchId, contactId));
};
