import { addBellRun, bellsRunUntil } from "../../store/launch/bells";
import { bellRungWords, lastCall, overtaken, type Overtaken } from "../../core/emails";
import { countOnBell } from "../../store/emails/queueToList";
import { type App, queue, sendAccountEmail } from "../platform";
import { LockMode } from "@mikro-orm/core";
import { bells, nextBell, phaseFor, windowFor, type Bell } from "../../core/launch";
import { lengthWords, shortMoment, zoneCity } from "../../core/words";
import { DeskUser, BellRun, Launch } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { loadLaunch, type LaunchContext } from "./launchContext";
import { bellDataOf, bellEmailOf, queueBellEmail, sliceSize } from "./bellEmails";

/** Bells of which the vendor is told by email; the others are only listed. */
const notified: readonly Bell["kind"][] = ["opening", "closing", "price"];
/** A bell that rang this much later than it should have says so. */
const lateMs = 60_000;

/** Has the worker look at a launch's bells when the next one is due. Call in the transaction that makes or changes it. */
export const scheduleBells = async (em: EntityManager, launchId: string, now: Date): Promise<void> => {
  const context = await loadLaunch(em, { id: launchId });
  const until = await bellsRunUntil(em, launchId);
  if (!until) await em.nativeUpdate(Launch, { id: launchId }, { bellsUntil: now });
  const next = context && nextBell(context.plan, until ?? now);
  // Rules that never end are looked at again within the year.
  const dueAt = next?.at ?? new Date(now.getTime() + 300 * 86_400_000);
  await queue(em, "run_bells", { id: launchId }, dueAt, `bells:${launchId}`);
};

/** Has the worker look at the bells and the last calls of a launch. Call in the transaction that makes it. */
export const scheduleLaunch = async (em: EntityManager, launchId: string, now: Date): Promise<void> => {
  await scheduleBells(em, launchId, now);
  await queue(em, "queue_last_calls", { id: launchId }, now, `last_calls:${launchId}`);
};

/** How late a bell rang, in words for its record. */
const lateness = (bell: { at: Date }, now: Date): string => {
  const late = now.getTime() - bell.at.getTime();
  return late > lateMs ? ` Caught up ${lengthWords(Math.round(late / 60_000))} late: nothing was running.` : "";
};

const notSent: Record<Overtaken, string> = {
  doors_closed: "Not sent: the doors had closed meanwhile.",
  next_is_due: "Not sent: the next email to the same bell was due as well.",
  too_late: "Not sent: what it says was not true any more.",
};

/** What a bell does, in words for its record: nothing but ring, an email that is not sent any more, or one that is to be queued. */
const doneBy = (context: LaunchContext, bell: Bell, now: Date): { outcome: string; queues: boolean } => {
  const late = lateness(bell, now);
  const email = bell.kind === "email" ? bellEmailOf(context.plan, bell.id) : undefined;
  if (!email) return { outcome: `Rung.${late}`, queues: false };
  const window = windowFor(context.plan, {}, bell.opens ?? bell.at);
  const stop = window && overtaken(email, { emails: context.plan.settings.emails, window, zone: context.plan.zone }, now);
  return stop ? { outcome: `${notSent[stop]}${late}`, queues: false } : { outcome: `Emails are being queued.${late}`, queues: true };
};

/**
 * Rings every bell of a launch that is due and has not rung: writes it down, has its emails queued and the vendor told. All
 * in one short transaction behind the launch's row, so that each bell rings once, whichever process comes first; emails
 * are queued outside of it, because whoever buys at that moment needs the row as well.
 */
export const runBells = async (app: App, launchId: string): Promise<void> => {
  await app.fork().transactional(async (em) => {
    const until = await bellsRunUntil(em, launchId, true);
    const context = await loadLaunch(em, { id: launchId });
    if (until === undefined || !context) return;
    const now = app.clock.now();
    const from = until ?? now;
    for (const bell of bells(context.plan, {}, { from, to: now }).filter(({ at }) => at > from)) {
      const { outcome, queues } = doneBy(context, bell, now);
      const { key, at, label, opens = null } = bell;
      const emailId = bell.kind === "email" ? bell.id : null;
      const run = await addBellRun(em, { launchId, key, at, label, emailId, opens, ranAt: now, outcome, queuedAt: queues ? null : now });
      if (!run) continue;
      if (queues) await queue(em, "queue_emails", { id: run }, now, `emails:${run}`);
      if (notified.includes(bell.kind)) await queue(em, "notify_vendor", { id: run }, now, `notified:${run}`);
    }
    await em.nativeUpdate(Launch, { id: launchId }, { bellsUntil: now });
    await scheduleBells(em, launchId, now);
  });
};

/**
 * Queues the emails of a bell that has rung, a slice of the list at a time, each in a transaction of its own that locks
 * this bell alone. Cut off, it goes on where it was.
 */
export const queueBellEmails = async (app: App, runId: string): Promise<void> => {
  for (;;) {
    const more = await app.fork().transactional(async (em) => {
      const run = await em.findOne(BellRun, { id: runId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
      const context = run && !run.queuedAt ? await loadLaunch(em, { id: run.launchId }) : undefined;
      if (!run || !context) return false;
      const now = app.clock.now();
      const email = bellEmailOf(context.plan, run.emailId);
      const { plan } = context;
      const window = windowFor(plan, {}, run.opens ?? run.at);
      const last = email && window && lastCall({ emails: plan.settings.emails, window, zone: plan.zone })?.id === email.id;
      const when = { dueAt: now, lastCall: last ?? false };
      const slice = email && (await queueBellEmail(em, context, email, run.opens, when, { after: run.queuedAfter ?? null, most: sliceSize }));
      const over = !slice?.last;
      // Those of a last call may have been queued ahead.
      const queued = email && last && over ? await countOnBell(em, run.launchId, bellDataOf(email, run.opens)) : run.queued + (slice?.queued ?? 0);
      const outcome = `${queued.toLocaleString("en")} ${queued === 1 ? "email" : "emails"} on the way.${lateness(run, run.ranAt)}`;
      await em.nativeUpdate(BellRun, { id: runId }, { queued, queuedAfter: slice?.last ?? run.queuedAfter, queuedAt: over ? now : null, outcome });
      return !over;
    });
    if (!more) return;
  }
};

/** Writes to the vendor's owners that a bell has rung. Sent again after a crash, it carries the same Message-ID. */
export const notifyVendor = async (app: App, runId: string): Promise<void> => {
  const em = app.fork();
  const run = await em.findOne(BellRun, { id: runId });
  const context = run && (await loadLaunch(em, { id: run.launchId }));
  if (!run || run.notifiedAt || !context) return;
  const { launch, plan } = context;
  const now = app.clock.now();
  const moment = `${shortMoment(run.at, launch.zone)} ${zoneCity(launch.zone)}`;
  const phase = { before: "doors closed, not open yet", during: "doors open", after: "doors closed" }[phaseFor(plan, {}, now)];
  const link = `${app.config.origin}/desk/${launch.slug}/score`;
  const words = bellRungWords({ bell: run.label, launch: launch.name, moment, outcome: run.outcome, phase, link });
  for (const user of await em.find(DeskUser, { role: "owner", endedAt: null })) await sendAccountEmail(app, user.email, words, `${runId}.${user.id}`);
  await em.nativeUpdate(BellRun, { id: runId }, { notifiedAt: now });
};
