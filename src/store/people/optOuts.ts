import type { EntityManager } from "../orm";

type MadeBy = "rule" | "desk" | "reader";

/** From now on a contact gets no emails of a launch. Doing it twice is the same as once; what a reader said themself outranks the others. */
export const optOut = async (em: EntityManager, contactId: string, launchId: string, by: MadeBy, now: Date): Promise<void> => {
  await em.execute(
    `insert into launch_opt_out (contact_id, launch_id, at, made_by) values (?, ?, ?, ?)
     on conflict (contact_id, launch_id) do update set made_by = excluded.made_by where excluded.made_by = 'reader'`,
    [contactId, launchId, now, by],
  );
};

/** Whether, since when and by whose doing a contact gets no emails of a launch. */
export const optOutOf = async (em: EntityManager, contactId: string, launchId: string): Promise<{ at: Date; by: MadeBy } | undefined> => {
  const [row] = await em.execute<{ at: string; made_by: MadeBy }[]>("select at, made_by from launch_opt_out where contact_id = ? and launch_id = ?", [
    contactId,
    launchId,
  ]);
  return row && { at: new Date(row.at), by: row.made_by };
};

/** Emails of a launch go to a contact again. */
export const endOptOut = async (em: EntityManager, contactId: string, launchId: string): Promise<void> => {
  await em.execute("delete from launch_opt_out where contact_id = ? and launch_id = ?", [contactId, launchId]);
};
