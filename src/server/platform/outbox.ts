import type { WorkPayload, WorkTopic } from "../../core/work";
import { queueWork } from "../../store/platform/queueWork";
import type { EntityManager } from "../../store/orm";

/** Queues work that follows a change, in its transaction; it is done when it is due. The same `key` queues once. Emails have a table of their own. */
export const queue = <T extends WorkTopic>(em: EntityManager, topic: T, payload: WorkPayload<T>, dueAt: Date, key?: string): Promise<void> =>
  queueWork(em, { topic, payload, key, dueAt });

/** The same as a row, for a statement that writes other things with it. Its key is new. */
export const workRow = <T extends WorkTopic>(topic: T, payload: WorkPayload<T>, dueAt: Date, key: string) => ({ topic, payload, key, due_at: dueAt });

/** How long work waits after so many tries: two seconds, doubled each time, a quarter of an hour at most. It is never given up. */
export const retryDelayMs = (tries: number): number => Math.min(15 * 60_000, 2_000 * 2 ** Math.min(20, Math.max(0, tries - 1)));
