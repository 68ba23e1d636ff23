import type { EntityManager } from "../../orm";

export interface FoundPerson {
  id: string;
  name: string;
  email: string;
}

/** Contacts who came to a launch, whose first name or address begins with what was typed, at most ten. */
export const peopleByName = async (em: EntityManager, launchId: string, typed: string): Promise<FoundPerson[]> => {
  const start = `${typed.toLowerCase().replace(/[\\%_]/g, "\\$&")}%`;
  return em.execute<FoundPerson[]>(
    `select c.id, c.first_name as name, c.email from contact c join stage_rollup r on r.person_id = c.person_id and r.launch_id = ?
     where c.erased_at is null and (lower(c.first_name) like ? or c.email like ?) order by c.email limit 10`,
    [launchId, start, start],
  );
};
