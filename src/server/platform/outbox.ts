import type { WorkPayload, WorkTopic } from "../../core/work";
import { queueWork } from "../../store/platform/queueWork";
import type { EntityManager } from "../../store/orm";

/** Queues work that follows a change, in its transaction; it is done when it is due. The same `key` queues once. Emails have a table of their own. */
export const queue = <T extends WorkTopic>(em: EntityManager, topic: T, payload: WorkPayload<T>, dueAt: Date, key?: string): Promise<void> =>
  queueWork(em, { topic, payload, key, dueAt });

/** The same as a row, for a statement that writes other things with it. Its key is new. */
export const workRow = <T extends WorkTopic>(topic: T, payload: WorkPayload<T>, dueAt: Date, key: string) => ({ topic, payload, key, due_at: dueAt });
