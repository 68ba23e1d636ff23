import type { EntityManager } from "../orm";

/** When a contact last began a checkout of a launch, first ordered there, and joined its list. */
export const factsOfContact = async (
  em: EntityManager,
  launchId: string,
  { id, personId }: { id: string; personId: string },
): Promise<{ begun?: Date; ordered?: Date; optedIn?: Date }> => {
  const [row] = await em.execute<{ begun: string | null; ordered: string | null; opted_in: string | null }[]>(
    `select (select max(begun_at) from checkout where launch_id = ? and contact_id = ?) as begun,
       (select min(placed_at) from sale_order where launch_id = ? and contact_id = ?) as ordered,
       (select opted_in from stage_rollup where launch_id = ? and person_id = ?) as opted_in`,
    [launchId, id, launchId, id, launchId, personId],
  );
  const date = (text: string | null | undefined) => (text ? new Date(text) : undefined);
  return { begun: date(row?.begun), ordered: date(row?.ordered), optedIn: date(row?.opted_in) };
};
