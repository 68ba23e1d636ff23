import { bellEmailDueAt, lastCall, type BellEmails, type QuietHours } from "../../core/emails";
import { windowsFor, type EmailSetting, type LaunchPlan } from "../../core/launch";
import { zonesOfList } from "../../store/emails/queueToList";
import type { EntityManager } from "../../store/orm";
import { sendingLimitsOf } from "../../store/settings/sending";
import { queue, type App } from "../platform";
import { bellEmailOf, queueBellEmail, sliceSize } from "./bellEmails";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** So long before it is due the last email before a close is queued, so that others keep its place under the cap free. */
const aheadMs = 48 * 3_600_000;
const year = 366 * 86_400_000;

interface LastCall {
  email: EmailSetting;
  run: BellEmails;
  /** When it is due for whoever has no quiet hours then. */
  at: Date;
}

/** The last calls of a launch that are still to come, in the order of its windows. */
const lastCallsOf = (plan: LaunchPlan, now: Date): LastCall[] =>
  windowsFor(plan, {}, now, new Date(now.getTime() + year)).flatMap((window) => {
    const run = { emails: plan.settings.emails, window, zone: plan.zone };
    const email = bellEmailOf(plan, lastCall(run)?.id);
    return email ? [{ email, run, at: bellEmailDueAt(email, run).at }] : [];
  });

/** Queues a last call to all who are on the list and have none yet, for each before their own night. Answers at which instants it goes. */
const queueAhead = async (em: EntityManager, context: LaunchContext, { email, run, at }: LastCall, quiet: QuietHours | null): Promise<Date[]> => {
  const { launch, plan } = context;
  const dated = (zone: string) => bellEmailDueAt(email, run, { zone, quiet }).at;
  const dueByZone = Object.fromEntries((await zonesOfList(em, launch.id)).map((zone) => [zone, dated(zone)]));
  const dueAt = dated(plan.zone);
  const opens = plan.clock.kind === "fixed" ? undefined : run.window.opens;
  for (let after: string | null = null; ;) {
    const { last } = await queueBellEmail(em, context, email, opens, { dueAt, dueByZone, lastCall: true }, { after, most: sliceSize });
    if (!last) return [dueAt, ...Object.values(dueByZone), at];
    after = last;
  }
};

/**
 * Queues the last emails before the closes of a launch ahead, where quiet hours or a cap ask for it: each goes to its reader before their night, and others
 * yield to it. Whoever joins the list meanwhile is added whenever it goes to some, and at its bell the rest.
 */
export const queueLastCalls = async (app: App, launchId: string): Promise<void> => {
  const em = app.fork();
  const context = await loadLaunch(em, { id: launchId });
  if (!context || context.plan.clock.kind === "personal") return;
  const { quiet, perDay } = await sendingLimitsOf(em);
  if (!quiet && perDay === null) return;
  const now = app.clock.now();
  const wakes: Date[] = [];
  for (const call of lastCallsOf(context.plan, now)) {
    const from = new Date(call.at.getTime() - aheadMs);
    if (now < from) wakes.push(from);
    else if (now < call.at) wakes.push(...(await queueAhead(em, context, call, quiet)));
  }
  const next = wakes.filter((at) => at > now).sort((a, b) => a.getTime() - b.getTime())[0];
  if (next) await queue(em, "queue_last_calls", { id: launchId }, next, `last_calls:${launchId}`);
};
