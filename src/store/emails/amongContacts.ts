import type { EntityManager } from "../orm";

/** Whether something holds for a contact in a launch: asked once for many contacts, answered for each pair. */
type Among = (launchId: string, contactId: string) => boolean;

const pairsOf = async (em: EntityManager, select: string, contactIds: readonly string[]): Promise<Among> => {
  if (contactIds.length === 0) return () => false;
  const rows = await em.execute<{ launch_id: string; contact_id: string }[]>(select, [`{${contactIds.join(",")}}`]);
  const pair = (launchId: string, contactId: string): string => `${launchId}/${contactId}`;
  const pairs = new Set(rows.map(({ launch_id, contact_id }) => pair(launch_id, contact_id)));
  return (launchId, contactId) => pairs.has(pair(launchId, contactId));
};

/** Which of some contacts have bought, and where. */
export const buyersAmong = (em: EntityManager, contactIds: readonly string[]): Promise<Among> =>
  pairsOf(em, "select distinct launch_id, contact_id from sale_order where contact_id = any(?::uuid[]) and not test", contactIds);

/** Which of some contacts get no emails of which launch. */
export const optedOutAmong = (em: EntityManager, contactIds: readonly string[]): Promise<Among> =>
  pairsOf(em, "select launch_id, contact_id from launch_opt_out where contact_id = any(?::uuid[])", contactIds);
