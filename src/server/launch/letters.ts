import { bells, phaseFor, type Bell, type LaunchPlan, type LetterSetting, type Viewer } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { clockStarts } from "../../store/launch/clockStarts";
import { queueEmail } from "../../store/emails/queueEmail";
import type { App } from "../platform";
import { loadLaunch, type LaunchContext } from "./launchContext";

/** The letter that a bell sends, and the opening of the window it belongs to (none with a clock of fixed dates). */
export const letterOf = (plan: LaunchPlan, bell: Pick<Bell, "key">): { letter: LetterSetting; opens?: string } | undefined => {
  const match = /^letter:([\w-]+)(?:@(.+))?$/.exec(bell.key);
  const letter = plan.settings.letters.find(({ id }) => id === match?.[1]);
  return letter && { letter, ...(match?.[2] ? { opens: match[2] } : {}) };
};

const keyOf = (launchId: string, letter: string, opens: string | undefined) => `letter:${launchId}:${letter}:${opens ?? ""}`;

/**
 * Queues a letter to a slice of the list of a launch: contacts whose consent stands, in the order of their ids, behind
 * `after`; without those who bought where it says so. The same letter of the same window is queued once for a contact.
 * Answers how many were queued, and the last contact of the slice; none where the list is at its end.
 */
export const queueLetter = async (
  em: EntityManager,
  context: LaunchContext,
  letter: LetterSetting,
  opens: string | undefined,
  dueAt: Date,
  { after, most }: { after: string | null; most: number },
): Promise<{ queued: number; last: string | null }> => {
  const data = JSON.stringify({ letter: letter.id, ...(opens ? { opens } : {}) });
  const { id } = context.launch;
  const [row] = await em.execute<{ n: string; looked: string; last: string | null }[]>(
    `with slice as materialized (
       select c.id from contact c join stage_rollup r on r.person_id = c.person_id and r.launch_id = ? and r.opted_in is not null
       where c.consent_at is not null and c.unsubscribed_at is null and (?::uuid is null or c.id > ?::uuid) order by c.id limit ${Math.trunc(most)}
     ), queued as (
       insert into email_message (id, key, kind, launch_id, contact_id, due_at, data)
       select gen_random_uuid(), ?::text || s.id, 'letter', ?, s.id, ?::timestamptz, ?::jsonb from slice s
       where ?::boolean or not exists (select from sale_order o where o.launch_id = ? and o.contact_id = s.id and not o.test)
       on conflict (key) do nothing returning 1
     ) select (select count(*) from queued) as n, (select count(*) from slice) as looked, (select id from slice order by id desc limit 1) as last`,
    [id, after, after, `${keyOf(id, letter.id, opens)}:`, id, dueAt, data, letter.to === "list", id],
  );
  return { queued: Number(row!.n), last: Number(row!.looked) < most ? null : row!.last };
};

/** Queues the letters that hang on a personal clock which starts now, for its owner, if their address is known and may be used. */
export const queuePersonalLetters = async (em: EntityManager, context: LaunchContext, personId: string, who: Viewer, now: Date): Promise<void> => {
  if (context.plan.settings.letters.length === 0) return;
  const [contact] = await em.execute<{ id: string }[]>(
    "select id from contact where person_id = ? and consent_at is not null and unsubscribed_at is null",
    [personId],
  );
  if (!contact) return;
  const range = { from: now, to: new Date(now.getTime() + 366 * 86_400_000) };
  for (const bell of bells(context.plan, who, range)) {
    const found = letterOf(context.plan, bell);
    if (!found) continue;
    const { letter, opens } = found;
    await queueEmail(em, {
      key: `${keyOf(context.launch.id, letter.id, opens)}:${contact.id}`,
      kind: "letter",
      launchId: context.launch.id,
      contactId: contact.id,
      dueAt: bell.at,
      data: { letter: letter.id, opens },
    });
  }
};

/** Hangs the letters of a launch anew on every personal clock that runs, after its settings were changed. What is no longer due is found out when it is. */
export const rescheduleEmails = async (app: App, launchId: string): Promise<void> => {
  const em = app.fork();
  const context = await loadLaunch(em, { id: launchId });
  if (!context || context.plan.clock.kind !== "personal") return;
  const now = app.clock.now();
  await em.execute("update email_message set due_at = least(due_at, ?) where launch_id = ? and kind = 'letter' and state = 'due'", [now, launchId]);
  for (const { personId, starts } of await clockStarts(em, launchId, now)) {
    if (phaseFor(context.plan, { starts }, now) === "during")
      await em.transactional((tx) => queuePersonalLetters(tx, context, personId, { starts }, now));
  }
};
