// PostgreSQL's `deadlock_detected`. Statements that are prepared by name come past the ORM, which would give it a class.
const isDeadlock = (error: unknown): boolean => error instanceof Error && "code" in error && error.code === "40P01";

/**
 * Runs work that is one transaction (or is idempotent) once more where the database broke a deadlock by ending it: nothing
 * of it was written. Two identities that merge while their visits are being counted can meet so.
 */
export const onceMoreAfterDeadlock = async <T>(work: () => Promise<T>): Promise<T> => {
  try {
    return await work();
  } catch (error) {
    if (!isDeadlock(error)) throw error;
    return work();
  }
};
