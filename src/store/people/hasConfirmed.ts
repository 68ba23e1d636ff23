import type { EntityManager } from "../orm";

/** Whether a person opted in on a page of a launch, and the address is theirs. */
export const hasConfirmed = async (em: EntityManager, launchId: string, page: string, personId: string): Promise<boolean> => {
  const rows = await em.execute<object[]>(
    "select 1 from opt_in o join contact c on c.id = o.contact_id where c.person_id = ? and o.launch_id = ? and o.page = ? and o.confirmed_at is not null limit 1",
    [personId, launchId, page],
  );
  return rows.length > 0;
};
