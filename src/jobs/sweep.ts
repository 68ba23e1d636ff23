import { type App, queue } from "../server/platform";
import { takeUpEmails } from "../store/emails/claim";
import { unattendedWork } from "../store/work/unattendedWork";

/**
 * Finds what is due and in nobody's hands: rows that say something must still happen, with no work for it in the outbox
 * or the queue. A queue that was emptied, a bug, or a process that ended at the wrong moment cannot lose anything for long.
 */
export const sweep = async (app: App): Promise<number> => {
  const em = app.fork();
  const now = app.clock.now();
  const found = await unattendedWork(em, now);
  for (const { topic, id, key } of found) await queue(em, topic, { id }, now, key);
  return found.length + (await takeUpEmails(em));
};
