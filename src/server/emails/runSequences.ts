import { longestStepWait } from "../../core/emails";
import { Launch } from "../../store/tables";
import { launchesWithSequences, lockSequence, lookAgain, noteSequence, queueNewSteps, takeIn } from "../../store/emails/sequences/sequences";
import { dateClocks } from "../launch";
import type { App } from "../platform";

/** A transaction that began earlier may become visible so much later: whoever looks goes back by it, and takes nobody in twice. */
const overlapMs = 15 * 60_000;
const minute = 60_000;

/**
 * Takes into each sequence of each launch whoever had its moment since it looked last, and queues its steps for them; those whose steps wait are looked
 * at anew where the steps were changed. Each sequence in a short transaction of its own that no other worker shares.
 */
export const runSequences = async (app: App): Promise<void> => {
  await dateClocks(app);
  const em = app.fork();
  const ids = await launchesWithSequences(em);
  for (const { id, version, settings } of await em.find(Launch, { id: { $in: ids } })) {
    for (const { id: key, from, steps } of settings.sequences) {
      const now = app.clock.now();
      await app.fork().transactional(async (tx) => {
        const progress = await lockSequence(tx, id, key, version, now);
        if (!progress) return;
        const of = { launchId: id, key, from, steps };
        await takeIn(tx, of, progress.since, new Date(progress.lookedAt.getTime() - overlapMs), now);
        if (progress.version !== version) {
          await queueNewSteps(tx, of, new Date(now.getTime() - longestStepWait * minute));
          await lookAgain(tx, id, key, now);
        }
        await noteSequence(tx, id, key, version, now);
      });
    }
  }
};
