import type { App } from "../server/app/app";
import { ensureEventPartitions } from "../store/eventPartitions";

const week = 7 * 86_400_000;

/** What must be done now and then: parts of the event log ahead of time, and sessions and counts that are over swept away. */
export const keepHouse = async (app: App): Promise<void> => {
  const now = app.clock.now();
  const em = app.fork();
  await ensureEventPartitions(em, now, new Date(now.getTime() + 3 * week));
  await em.execute("delete from session where expires_at < ?", [now]);
  await em.execute("delete from rate_limit where from_at < ?", [new Date(now.getTime() - 86_400_000)]);
};
