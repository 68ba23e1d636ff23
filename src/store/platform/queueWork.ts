import type { EntityManager } from "../orm";

/** Writes work into the outbox, in the current transaction. The same `key` is there once; queued again, it moves. */
export const queueWork = async (
  em: EntityManager,
  { topic, payload, key, dueAt }: { topic: string; payload: { id: string }; key?: string; dueAt: Date },
): Promise<void> => {
  await em.execute(
    "insert into outbox (topic, payload, key, due_at) values (?, ?::jsonb, ?, ?) on conflict (key) do update set due_at = excluded.due_at",
    [topic, JSON.stringify(payload), key ?? null, dueAt],
  );
};
