import { moveRecoveryEmails } from "../../store/leaks/moveRecoveryEmails";
import { Launch, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed } from "../platform";
import { launchChanged } from "../launch";

/** Sets how long after the last activity the email to a lost buyer goes; those that wait already move with it. */
export const setRecoveryDelay = async (em: EntityManager, user: DeskUser, launchId: string, minutes: number): Promise<void> => {
  mustBeAllowed(user, "recovery.edit");
  await em.transactional(async (tx) => {
    await tx.nativeUpdate(Launch, { id: launchId }, { recoveryDelayMinutes: minutes });
    await moveRecoveryEmails(tx, launchId, minutes);
    await launchChanged(tx);
  });
};
