import type { EntityManager } from "../orm";

/** Moves the emails to lost buyers that wait already: each is due so many minutes after its checkout was last touched. */
export const moveRecoveryEmails = async (tx: EntityManager, launchId: string, minutes: number): Promise<void> => {
  await tx.execute(
    `update email_message e set due_at = c.last_activity_at + make_interval(mins => ?) from checkout c
     where c.id = e.checkout_id and e.launch_id = ? and e.kind = 'recovery' and e.state = 'due'`,
    [minutes, launchId],
  );
};
