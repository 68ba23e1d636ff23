import type { EntityManager } from "../orm";

/** Keeps what an outside tool told of a person in a launch; the same at the same instant is one. */
export const addNotice = async (
  em: EntityManager,
  { launchId, contactId, name }: Record<"launchId" | "contactId" | "name", string>,
  now: Date,
): Promise<void> => {
  await em.execute("insert into person_notice (launch_id, contact_id, name, at) values (?, ?, ?, ?) on conflict do nothing", [
    launchId,
    contactId,
    name,
    now,
  ]);
};
