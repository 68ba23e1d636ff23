import { type App, queue, senderOf } from "../platform";
import { randomUUID } from "node:crypto";
import { bells, lengthWords, nextBell, overtaken, phaseFor, shortMoment, windowFor, zoneCity, type Bell, type Overtaken } from "../../core/launch";
import { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { loadLaunch, type LaunchContext } from "./launchContext";
import { letterOf, queueLetter } from "./letters";

/** Bells of which the vendor is told by email; the others are only listed. */
const notified: readonly Bell["kind"][] = ["opening", "closing", "price"];
/** A bell that rang this much later than it should have says so. */
const lateMs = 60_000;

/** Has the worker look at a launch's bells when the next one is due. Call in the transaction that makes or changes it. */
export const scheduleBells = async (em: EntityManager, launchId: string, now: Date): Promise<void> => {
  const context = await loadLaunch(em, { id: launchId });
  const [row] = await em.execute<{ bells_until: string | null }[]>("select bells_until from launch where id = ?", [launchId]);
  if (!row?.bells_until) await em.execute("update launch set bells_until = ? where id = ?", [now, launchId]);
  const next = context && nextBell(context.plan, row?.bells_until ? new Date(row.bells_until) : now);
  // Rules that never end are looked at again within the year.
  const dueAt = next?.at ?? new Date(now.getTime() + 300 * 86_400_000);
  await queue(em, "run_bells", { id: launchId }, dueAt, `bells:${launchId}`);
};

/** How late a bell rang, in words for its record. */
const lateness = (bell: { at: Date }, now: Date): string => {
  const late = now.getTime() - bell.at.getTime();
  return late > lateMs ? ` Caught up ${lengthWords(Math.round(late / 60_000))} late: nothing was running.` : "";
};

const notSent: Record<Overtaken, string> = {
  doors_closed: "Not sent: the doors had closed meanwhile.",
  next_is_due: "Not sent: the next letter to the same bell was due as well.",
  too_late: "Not sent: what it says was not true any more.",
};

/** What a bell does, in words for its record: nothing but ring, a letter that is not sent any more, or one that is to be queued. */
const doneBy = (context: LaunchContext, bell: Bell, now: Date): { outcome: string; queues: boolean } => {
  const late = lateness(bell, now);
  const found = letterOf(context.plan, bell);
  if (!found) return { outcome: `Rung.${late}`, queues: false };
  const { letter, opens } = found;
  const window = windowFor(context.plan, {}, opens ? new Date(opens) : bell.at);
  const stop = window && overtaken(letter, context.plan.settings.letters, window, now);
  return stop ? { outcome: `${notSent[stop]}${late}`, queues: false } : { outcome: `Letters are being queued.${late}`, queues: true };
};

/**
 * Rings every bell of a launch that is due and has not rung: writes it down, has its letters queued and the vendor told. All
 * in one short transaction behind the launch's row, so that each bell rings once, whichever process comes first; letters
 * are queued outside of it, because whoever buys at that moment needs the row as well.
 */
export const runBells = async (app: App, launchId: string): Promise<void> => {
  await app.fork().transactional(async (em) => {
    const [row] = await em.execute<{ bells_until: string | null }[]>("select bells_until from launch where id = ? for no key update", [launchId]);
    const context = await loadLaunch(em, { id: launchId });
    if (!row || !context) return;
    const now = app.clock.now();
    const from = row.bells_until ? new Date(row.bells_until) : now;
    for (const bell of bells(context.plan, {}, { from, to: now }).filter(({ at }) => at > from)) {
      const { outcome, queues } = doneBy(context, bell, now);
      const [run] = await em.execute<{ id: string }[]>(
        `insert into bell_run (id, launch_id, key, at, label, ran_at, outcome, queued_at) values (?, ?, ?, ?, ?, ?, ?, ?)
         on conflict (launch_id, key, at) do nothing returning id`,
        [randomUUID(), launchId, bell.key, bell.at, bell.label, now, outcome, queues ? null : now],
      );
      if (!run) continue;
      if (queues) await queue(em, "queue_emails", { id: run.id }, now, `letters:${run.id}`);
      if (notified.includes(bell.kind)) await queue(em, "notify_vendor", { id: run.id }, now, `notified:${run.id}`);
    }
    await em.execute("update launch set bells_until = ? where id = ?", [now, launchId]);
    await scheduleBells(em, launchId, now);
  });
};

/** How many letters are queued in one transaction. */
const sliceSize = 2_000;

/**
 * Queues the letters of a bell that has rung, a slice of the list at a time, each in a transaction of its own that locks
 * this bell alone. Cut off, it goes on where it was.
 */
export const queueLetters = async (app: App, runId: string): Promise<void> => {
  for (;;) {
    const more = await app.fork().transactional(async (em) => {
      const [run] = await em.execute<
        { launch_id: string; key: string; at: string; ran_at: string; queued: number; queued_after: string | null; queued_at: string | null }[]
      >("select launch_id, key, at, ran_at, queued, queued_after, queued_at from bell_run where id = ? for update", [runId]);
      const context = run && !run.queued_at ? await loadLaunch(em, { id: run.launch_id }) : undefined;
      if (!run || !context) return false;
      const now = app.clock.now();
      const found = letterOf(context.plan, run);
      const slice = found && (await queueLetter(em, context, found.letter, found.opens, now, { after: run.queued_after, most: sliceSize }));
      const queued = run.queued + (slice?.queued ?? 0);
      const over = !slice?.last;
      const outcome = `${queued.toLocaleString("en")} ${queued === 1 ? "letter" : "letters"} on the way.${lateness({ at: new Date(run.at) }, new Date(run.ran_at))}`;
      await em.execute("update bell_run set queued = ?, queued_after = ?, queued_at = ?, outcome = ? where id = ?", [
        queued,
        slice?.last ?? run.queued_after,
        over ? now : null,
        outcome,
        runId,
      ]);
      return !over;
    });
    if (!more) return;
  }
};

/** Writes to the vendor's owners that a bell has rung. Sent again after a crash, it carries the same Message-ID. */
export const notifyVendor = async (app: App, runId: string): Promise<void> => {
  const em = app.fork();
  const [run] = await em.execute<{ launch_id: string; at: string; label: string; outcome: string; notified_at: string | null }[]>(
    "select launch_id, at, label, outcome, notified_at from bell_run where id = ?",
    [runId],
  );
  const context = run && (await loadLaunch(em, { id: run.launch_id }));
  if (!run || run.notified_at || !context) return;
  const { launch, plan } = context;
  const now = app.clock.now();
  const moment = `${shortMoment(new Date(run.at), launch.zone)} ${zoneCity(launch.zone)}`;
  const phase = { before: "doors closed, not open yet", during: "doors open", after: "doors closed" }[phaseFor(plan, {}, now)];
  const link = `${app.config.origin}/desk/${launch.slug}/score`;
  const text = `${run.label}: ${launch.name}, ${moment}. ${run.outcome}\n\nNow: ${phase}.\n\nThe score: ${link}`;
  for (const user of await em.find(DeskUser, { role: "owner", endedAt: null })) {
    await app.mailer.send(
      {
        to: user.email,
        from: senderOf(app),
        subject: `${run.label}: ${launch.name}`,
        text,
        html: `<p>${text.replace(/[&<>]/g, (c) => `&#${c.charCodeAt(0)};`).replaceAll("\n\n", "</p><p>")}</p>`,
        messageId: `<${runId}.${user.id}@${new URL(app.config.origin).hostname}>`,
      },
      "personal",
    );
  }
  await em.execute("update bell_run set notified_at = ? where id = ?", [now, runId]);
};
