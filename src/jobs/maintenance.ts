import { RateLimit, Session, UsedLink, WorkerBeat } from "../store/tables";
import { unscheduledLaunches } from "../store/launch/bells";
import { forgetImportParts } from "../store/people/imports";
import type { App } from "../server/platform";
import { scheduleBells } from "../server/launch";
import { ensureEventPartitions } from "../store/events/partitions";
import { sweepRetention } from "../store/settings/retention";

const day = 86_400_000;
const week = 7 * day;

/** What must be done now and then: parts of the event log ahead of time, and sessions and counts that are over swept away. */
export const runMaintenance = async (app: App): Promise<void> => {
  const now = app.clock.now();
  const em = app.fork();
  await ensureEventPartitions(em, now, new Date(now.getTime() + 3 * week));
  // Launches of before the bells were scheduled, and rules that never end.
  for (const id of await unscheduledLaunches(em)) await em.transactional((tx) => scheduleBells(tx, id, now));
  const forgotten = await sweepRetention(em, now);
  if (Object.keys(forgotten).length > 0) app.log.info({ forgotten }, "what has been kept long enough is gone");
  await em.nativeDelete(Session, { expiresAt: { $lt: now } });
  await em.nativeDelete(UsedLink, { expiresAt: { $lt: now } });
  await em.nativeDelete(RateLimit, { fromAt: { $lt: new Date(now.getTime() - day) } });
  await forgetImportParts(em, new Date(now.getTime() - week));
  // Heartbeats go by the machine's clock.
  await em.nativeDelete(WorkerBeat, { beatAt: { $lt: new Date(Date.now() - day) } });
};
