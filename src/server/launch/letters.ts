import { bells, phaseFor, type Bell, type LaunchPlan, type LetterSetting, type Onlooker } from "../../core/launch";
import type { EntityManager } from "../../store/orm";
import { clockStarts } from "../../store/reports/clockStarts";
import { queueEmail } from "../emails/queueEmail";
import type { App } from "../app/app";
import { loadBundle, type LaunchBundle } from "./bundle";

/** The letter that a bell sends, and the opening of the window it belongs to (none with a clock of fixed dates). */
export const letterOf = (plan: LaunchPlan, bell: Pick<Bell, "key">): { letter: LetterSetting; opens?: string } | undefined => {
  const match = /^letter:([\w-]+)(?:@(.+))?$/.exec(bell.key);
  const letter = plan.settings.letters.find(({ id }) => id === match?.[1]);
  return letter && { letter, ...(match?.[2] ? { opens: match[2] } : {}) };
};

const keyOf = (launchId: string, letter: string, opens: string | undefined) => `letter:${launchId}:${letter}:${opens ?? ""}`;

/**
 * Queues a letter to everyone on the list of a launch whose consent stands, without those who bought where it says so.
 * The same letter of the same window is queued once for a contact. Answers how many were queued.
 */
export const queueLetter = async (
  em: EntityManager,
  bundle: LaunchBundle,
  letter: LetterSetting,
  opens: string | undefined,
  dueAt: Date,
): Promise<number> => {
  const data = JSON.stringify({ letter: letter.id, ...(opens ? { opens } : {}) });
  const { id } = bundle.launch;
  const [row] = await em.execute<{ n: string }[]>(
    `with queued as (
       insert into email_message (id, key, kind, launch_id, contact_id, due_at, data)
       select gen_random_uuid(), ?::text || c.id, 'letter', r.launch_id, c.id, ?::timestamptz, ?::jsonb
       from stage_rollup r join contact c on c.person_id = r.person_id
       where r.launch_id = ? and r.opted_in is not null and c.consent_at is not null and c.unsubscribed_at is null
         and (?::boolean or not exists (select from sale_order s where s.launch_id = r.launch_id and s.contact_id = c.id and not s.test))
       on conflict (key) do nothing returning id, due_at
     ), handed as (
       insert into outbox (topic, payload, key, due_at) select 'send_email', jsonb_build_object('id', id), 'email:' || id, due_at from queued on conflict (key) do nothing
     ) select count(*) as n from queued`,
    [`${keyOf(id, letter.id, opens)}:`, dueAt, data, id, letter.to === "list"],
  );
  return Number(row!.n);
};

/** Queues the letters that hang on a personal clock which starts now, for its owner, if their address is known and may be used. */
export const queuePersonalLetters = async (em: EntityManager, bundle: LaunchBundle, personId: string, who: Onlooker, now: Date): Promise<void> => {
  if (bundle.plan.settings.letters.length === 0) return;
  const [contact] = await em.execute<{ id: string }[]>(
    "select id from contact where person_id = ? and consent_at is not null and unsubscribed_at is null",
    [personId],
  );
  if (!contact) return;
  const range = { from: now, to: new Date(now.getTime() + 366 * 86_400_000) };
  for (const bell of bells(bundle.plan, who, range)) {
    const found = letterOf(bundle.plan, bell);
    if (!found) continue;
    const { letter, opens } = found;
    await queueEmail(em, {
      key: `${keyOf(bundle.launch.id, letter.id, opens)}:${contact.id}`,
      kind: "letter",
      launchId: bundle.launch.id,
      contactId: contact.id,
      dueAt: bell.at,
      data: { letter: letter.id, opens },
    });
  }
};

/** Hangs the letters of a launch anew on every personal clock that runs, after its settings were changed. What is no longer due is found out when it is. */
export const hangLetters = async (app: App, launchId: string): Promise<void> => {
  const em = app.fork();
  const bundle = await loadBundle(em, { id: launchId });
  if (!bundle || bundle.plan.clock.kind !== "personal") return;
  const now = app.clock.now();
  await em.execute(
    "update outbox set due_at = least(due_at, ?) where key in (select 'email:' || id from email_message where launch_id = ? and kind = 'letter' and state = 'due')",
    [now, launchId],
  );
  for (const { personId, starts } of await clockStarts(em, launchId, now)) {
    if (phaseFor(bundle.plan, { starts }, now) === "during")
      await em.transactional((tx) => queuePersonalLetters(tx, bundle, personId, { starts }, now));
  }
};
