import { randomUUID } from "node:crypto";
import type { EntityManager } from "../orm";
import type { BellRun } from "./tables";

/** Up to when a launch's bells were run; null where they never were, undefined where there is no such launch. `lock` holds its row. */
export const bellsRunUntil = async (em: EntityManager, launchId: string, lock = false): Promise<Date | null | undefined> => {
  const [row] = await em.execute<{ bells_until: string | null }[]>(`select bells_until from launch where id = ?${lock ? " for no key update" : ""}`, [
    launchId,
  ]);
  return row && (row.bells_until ? new Date(row.bells_until) : null);
};

/** Writes down that a bell was run, and answers the id of that; undefined where it was run before. */
export const addBellRun = async (
  em: EntityManager,
  { launchId, key, at, label, emailId, opens, ranAt, outcome, queuedAt }: Omit<BellRun, "id" | "notifiedAt" | "queued" | "queuedAfter">,
): Promise<string | undefined> => {
  const [run] = await em.execute<{ id: string }[]>(
    `insert into bell_run (id, launch_id, key, at, label, email_id, opens, ran_at, outcome, queued_at) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     on conflict (launch_id, key, at) do nothing returning id`,
    [randomUUID(), launchId, key, at, label, emailId ?? null, opens ?? null, ranAt, outcome, queuedAt ?? null],
  );
  return run?.id;
};

/** Launches whose bells nobody is going to run: those of before bells were scheduled, and rules that never end. */
export const unscheduledLaunches = async (em: EntityManager): Promise<string[]> => {
  const rows = await em.execute<{ id: string }[]>("select id from launch l where not exists (select from outbox o where o.key = 'bells:' || l.id)");
  return rows.map(({ id }) => id);
};
