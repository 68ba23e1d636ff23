import type { App } from "../server/platform";
import { scheduleBells } from "../server/launch";
import { ensureEventPartitions } from "../store/events/partitions";
import { sweepRetention } from "../store/settings/retention";

const week = 7 * 86_400_000;

/** What must be done now and then: parts of the event log ahead of time, and sessions and counts that are over swept away. */
export const runMaintenance = async (app: App): Promise<void> => {
  const now = app.clock.now();
  const em = app.fork();
  await ensureEventPartitions(em, now, new Date(now.getTime() + 3 * week));
  // Launches of before the bells were scheduled, and rules that never end.
  const unscheduled = await em.execute<{ id: string }[]>(
    "select id from launch l where not exists (select from outbox o where o.key = 'bells:' || l.id)",
  );
  for (const { id } of unscheduled) await em.transactional((tx) => scheduleBells(tx, id, now));
  const forgotten = await sweepRetention(em, now);
  if (Object.keys(forgotten).length > 0) app.log.info({ forgotten }, "what has been kept long enough is gone");
  await em.execute("delete from session where expires_at < ?", [now]);
  await em.execute("delete from used_link where expires_at < ?", [now]);
  await em.execute("delete from worker where beat_at < now() - interval '1 day'");
  await em.execute("delete from rate_limit where from_at < ?", [new Date(now.getTime() - 86_400_000)]);
};
