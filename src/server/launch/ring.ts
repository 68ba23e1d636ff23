import { randomUUID } from "node:crypto";
import { bells, lengthWords, nextBell, phaseFor, shortMoment, windowFor, zoneCity, type Bell } from "../../core/launch";
import { DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { queue } from "../app/outbox";
import { loadBundle, type LaunchBundle } from "./bundle";
import { letterOf, queueLetter } from "./letters";

/** Bells of which the vendor is told by email; the others are only listed. */
const told: readonly Bell["kind"][] = ["opening", "closing", "price"];
/** A bell that rang this much later than it should have says so. */
const lateMs = 60_000;

/** Has the worker look at a launch's bells when the next one is due. Call in the transaction that makes or changes it. */
export const scheduleBells = async (em: EntityManager, launchId: string, now: Date): Promise<void> => {
  const bundle = await loadBundle(em, { id: launchId });
  const [row] = await em.execute<{ bells_until: string | null }[]>("select bells_until from launch where id = ?", [launchId]);
  if (!row?.bells_until) await em.execute("update launch set bells_until = ? where id = ?", [now, launchId]);
  const next = bundle && nextBell(bundle.plan, row?.bells_until ? new Date(row.bells_until) : now);
  // Rules that never end are looked at again within the year.
  const dueAt = next?.at ?? new Date(now.getTime() + 300 * 86_400_000);
  await queue(em, "ring_bells", { id: launchId }, dueAt, `bells:${launchId}`);
};

const act = async (em: EntityManager, bundle: LaunchBundle, bell: Bell, now: Date): Promise<string> => {
  const late = now.getTime() - bell.at.getTime();
  const lateness = late > lateMs ? ` Caught up ${lengthWords(Math.round(late / 60_000))} late: nothing was running.` : "";
  const found = letterOf(bundle.plan, bell);
  if (!found) return `Rung.${lateness}`;
  const { letter, opens } = found;
  const window = windowFor(bundle.plan, {}, opens ? new Date(opens) : bell.at);
  // A letter about open doors must not go when they have closed meanwhile.
  if (window && now >= window.closes && bell.at < window.closes) return `Not sent: the doors had closed meanwhile.${lateness}`;
  const n = await queueLetter(em, bundle, letter, opens, now);
  return `${n} ${n === 1 ? "letter" : "letters"} on the way.${lateness}`;
};

/**
 * Rings every bell of a launch that is due and has not rung: writes it down, sends what hangs on it, has the vendor
 * told. All in one transaction behind the launch's row, so that each bell rings once, whichever process comes first.
 */
export const ringBells = async (app: App, launchId: string): Promise<void> => {
  await app.fork().transactional(async (em) => {
    const [row] = await em.execute<{ bells_until: string | null }[]>("select bells_until from launch where id = ? for update", [launchId]);
    const bundle = await loadBundle(em, { id: launchId });
    if (!row || !bundle) return;
    const now = app.clock.now();
    const from = row.bells_until ? new Date(row.bells_until) : now;
    for (const bell of bells(bundle.plan, {}, { from, to: now }).filter(({ at }) => at > from)) {
      const [rung] = await em.execute<{ id: string }[]>(
        "insert into bell_rung (id, launch_id, key, at, label, rung_at, outcome) values (?, ?, ?, ?, ?, ?, '') on conflict (launch_id, key, at) do nothing returning id",
        [randomUUID(), launchId, bell.key, bell.at, bell.label, now],
      );
      if (!rung) continue;
      await em.execute("update bell_rung set outcome = ? where id = ?", [await act(em, bundle, bell, now), rung.id]);
      if (told.includes(bell.kind)) await queue(em, "tell_vendor", { id: rung.id }, now, `told:${rung.id}`);
    }
    await em.execute("update launch set bells_until = ? where id = ?", [now, launchId]);
    await scheduleBells(em, launchId, now);
  });
};

/** Writes to the vendor's owners that a bell has rung. Sent again after a crash, it carries the same Message-ID. */
export const tellVendor = async (app: App, rungId: string): Promise<void> => {
  await app.fork().transactional(async (em) => {
    const [rung] = await em.execute<{ launch_id: string; at: string; label: string; outcome: string; told_at: string | null }[]>(
      "select launch_id, at, label, outcome, told_at from bell_rung where id = ? for update",
      [rungId],
    );
    const bundle = rung && (await loadBundle(em, { id: rung.launch_id }));
    if (!rung || rung.told_at || !bundle) return;
    const { launch, plan } = bundle;
    const now = app.clock.now();
    const moment = `${shortMoment(new Date(rung.at), launch.zone)} ${zoneCity(launch.zone)}`;
    const phase = { before: "doors closed, not open yet", during: "doors open", after: "doors closed" }[phaseFor(plan, {}, now)];
    const link = `${app.config.origin}/desk/${launch.slug}/score`;
    const text = `${rung.label}: ${launch.name}, ${moment}. ${rung.outcome}\n\nNow: ${phase}.\n\nThe score: ${link}`;
    for (const user of await em.find(DeskUser, { role: "owner" })) {
      await app.mailer.send({
        to: user.email,
        from: app.config.INKBELL_MAIL_FROM,
        subject: `${rung.label}: ${launch.name}`,
        text,
        html: `<p>${text.replace(/[&<>]/g, (c) => `&#${c.charCodeAt(0)};`).replaceAll("\n\n", "</p><p>")}</p>`,
        messageId: `<${rungId}.${user.id}@${new URL(app.config.origin).hostname}>`,
      });
    }
    await em.execute("update bell_rung set told_at = ? where id = ?", [now, rungId]);
  });
};
