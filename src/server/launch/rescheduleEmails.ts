import { longestRun, phaseFor } from "../../core/launch";
import { redateBellEmails } from "../../store/emails/dating";
import { dateAgain } from "../../store/launch/clockEnds";
import { clockStarts } from "../../store/launch/clockStarts";
import type { App } from "../platform";
import { queuePersonalEmails } from "./bellEmails";
import { queueLastCalls } from "./lastCalls";
import { loadLaunch } from "./launchContext";

/**
 * Hangs the emails of a launch anew on every personal clock that runs, or on its last calls, after its settings or the limits of sending were changed.
 * What is no longer due is found out when it is.
 */
export const rescheduleEmails = async (app: App, launchId: string): Promise<void> => {
  const em = app.fork();
  const context = await loadLaunch(em, { id: launchId });
  if (!context) return;
  const now = app.clock.now();
  await redateBellEmails(em, launchId, now);
  if (context.plan.clock.kind !== "personal") return queueLastCalls(app, launchId);
  const since = new Date(now.getTime() - longestRun(context.plan.clock.length));
  await dateAgain(em, launchId, since);
  for await (const people of clockStarts(em, launchId, now, since)) {
    for (const { personId, starts } of people) {
      if (phaseFor(context.plan, { starts }, now) === "during")
        await em.transactional((tx) => queuePersonalEmails(tx, context, personId, { starts }, now));
    }
  }
};
