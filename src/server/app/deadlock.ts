import { DeadlockException } from "@mikro-orm/core";

/**
 * Runs work that is one transaction (or is idempotent) once more where the database broke a deadlock by ending it: nothing
 * of it was written. Two identities that merge while their visits are being counted can meet so.
 */
export const onceMoreAfterDeadlock = async <T>(work: () => Promise<T>): Promise<T> => {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof DeadlockException)) throw error;
    return work();
  }
};
