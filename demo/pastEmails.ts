import { emailVariantOf, variantKey } from "../src/core/emails";
import { bells, subjectOf, wallTimeOf, type LaunchPlan } from "../src/core/launch";
import { loadLaunch } from "../src/server/launch/launchContext";
import { scheduleBells } from "../src/server/launch/runBells";
import { LaunchEmail, OneOffEmail } from "../src/store/tables";
import type { EntityManager } from "../src/store/orm";
import { notYetBought } from "./people";
import type { Random } from "./random";

/** The emails of a bell that has rung, as they went to everybody who was on the list by then. Answers how many they are. */
const sendPast = async (em: EntityManager, launchId: string, plan: LaunchPlan, bell: { id: string; at: Date }): Promise<number> => {
  const email = plan.settings.emails.find(({ id }) => id === bell.id)!;
  const rows = await em.execute<object[]>(
    `insert into email_message (id, key, kind, launch_id, contact_id, due_at, sent_at, state, data, subject, stated_closing)
     select md5(k.key || c.id)::uuid, k.key || c.id, 'bell', r.launch_id, c.id, ?::timestamptz, ?::timestamptz + interval '40 seconds', 'sent', ?::jsonb, ?,
       (select ?::timestamptz from launch_email w where w.launch_id = r.launch_id and w.key = ? and w.published::text ~ '"(countdown|deadline)"')
     from stage_rollup r join contact c on c.person_id = r.person_id cross join (select ?::text as key) k
     where r.launch_id = ? and r.opted_in < ? and c.consent_at is not null and (? or r.paid is null or r.paid > ?) returning 1`,
    [
      bell.at,
      bell.at,
      JSON.stringify({ email: email.id }),
      subjectOf(plan, email.id),
      plan.clock.kind === "fixed" ? plan.clock.window.closes : null,
      email.id,
      `bell:${launchId}:${email.id}::`,
      launchId,
      bell.at,
      email.to === "list",
      bell.at,
    ],
  );
  return rows.length;
};

/** A launch's sequence as it has run: whose opt-in it counts from, and what has become of its steps by now. */
export const runPastSequence = async (em: EntityManager, launchId: string, plan: LaunchPlan, since: Date, now: Date): Promise<void> => {
  for (const { id, steps } of plan.settings.sequences) {
    await em.execute("insert into launch_sequence (launch_id, key, since, looked_at, version) values (?, ?, ?, ?, 1)", [launchId, id, since, now]);
    await em.execute(
      `insert into sequence_person (launch_id, key, contact_id, moment)
       select r.launch_id, ?, c.id, r.opted_in from stage_rollup r join contact c on c.person_id = r.person_id
       where r.launch_id = ? and r.opted_in is not null and r.opted_in <= ? and c.consent_at is not null`,
      [id, launchId, now],
    );
    const said = steps.map((step) => ({ id: step.id, minutes: step.minutes, subject: subjectOf(plan, step.id) }));
    await em.execute(
      `insert into email_message (id, key, kind, launch_id, contact_id, due_at, sent_at, state, stopped_because, data, subject)
       select md5(k.key)::uuid, k.key, 'step', p.launch_id, p.contact_id, d.due, case when d.state = 'sent' then d.due + interval '20 seconds' end, d.state,
         case when d.state = 'stopped' then 'paid' end,
         jsonb_build_object('sequence', p.key, 'step', s.id, 'moment', to_char(p.moment at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')),
         case when d.state = 'sent' then s.subject end
       from sequence_person p join contact c on c.id = p.contact_id join stage_rollup r on r.person_id = c.person_id and r.launch_id = p.launch_id
       cross join jsonb_to_recordset(?::jsonb) as s(id text, minutes integer, subject text)
       cross join lateral (select 'step:' || p.launch_id || ':' || s.id || ':' || p.contact_id as key) k
       cross join lateral (select p.moment + make_interval(mins => s.minutes) as at) w
       cross join lateral (select w.at as due, case when w.at > ? then 'due' when r.paid <= w.at then 'stopped' else 'sent' end as state) d
       where p.launch_id = ? and p.key = ?`,
      [JSON.stringify(said), now, launchId, id],
    );
  }
};

/** Writes down the bells of a launch that have rung before `now`, as they would have been. */
export const ringPast = async (em: EntityManager, random: Random, launchId: string, now: Date): Promise<void> => {
  const context = (await loadLaunch(em, { id: launchId }))!;
  for (const bell of bells(context.plan, {}, { from: new Date(0), to: now })) {
    const sent = bell.kind === "email" && context.plan.clock.kind === "fixed" ? await sendPast(em, launchId, context.plan, bell) : 0;
    await em.execute(
      "insert into bell_run (id, launch_id, key, email_id, opens, at, label, ran_at, outcome, notified_at, queued_at) values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
      [
        random.uuid(),
        launchId,
        bell.key,
        bell.kind === "email" ? bell.id : null,
        bell.opens ?? null,
        bell.at,
        bell.label,
        new Date(bell.at.getTime() + 400 + Math.floor(random.next() * 500)),
        bell.kind === "email" ? `${sent.toLocaleString("en")} emails on the way.` : "Rung.",
        new Date(bell.at.getTime() + 1_200),
        new Date(bell.at.getTime() + 1_000),
      ],
    );
  }
  await scheduleBells(em, launchId, now);
};

/** An email that went once, at an instant in the past, to whoever was on the list and had not bought by then. */
export const sendPastOneOff = async (em: EntityManager, launchId: string, id: string, at: Date): Promise<void> => {
  const { plan } = (await loadLaunch(em, { id: launchId }))!;
  const rows = await em.execute<object[]>(
    `insert into email_message (id, key, kind, launch_id, contact_id, due_at, sent_at, state, data, subject)
     select md5(k.key || c.id)::uuid, k.key || c.id, 'once', r.launch_id, c.id, ?::timestamptz, ?::timestamptz + interval '30 seconds', 'sent', ?::jsonb, ?
     from stage_rollup r join contact c on c.person_id = r.person_id cross join (select ?::text as key) k
     where r.launch_id = ? and r.opted_in < ? and c.consent_at is not null and (r.paid is null or r.paid > ?) returning 1`,
    [at, at, JSON.stringify({ email: id }), subjectOf(plan, id), `once:${launchId}:${id}:`, launchId, at, at],
  );
  await em.insert(OneOffEmail, {
    id,
    launchId,
    condition: notYetBought(launchId),
    wall: wallTimeOf(at, plan.zone),
    byZone: false,
    at,
    beginsAt: at,
    state: "sending",
    queued: rows.length,
    startedAt: at,
    queuedAt: at,
    createdAt: new Date(at.getTime() - 5_400_000),
    version: 3,
  });
};

/** Gives the emails that have gone of one with two variants the variant, and its subject, that each reader would get. */
export const assignVariants = async (em: EntityManager, launchId: string, key: string): Promise<void> => {
  const stored = await em.find(LaunchEmail, { launchId, key: [key, variantKey(key)] });
  const [first, second] = [key, variantKey(key)].map((one) => stored.find((email) => email.key === one)!);
  const gone = await em.execute<{ id: string; person: string }[]>(
    `select m.id, c.person_id as person from email_message m join contact c on c.id = m.contact_id
     where m.launch_id = ? and m.data->>'email' = ? and m.state = 'sent'`,
    [launchId, key],
  );
  const weights = { A: first!.weight, B: second!.weight };
  const given = gone.map(({ id, person }) => ({ id, variant: emailVariantOf(`${launchId}/${key}`, person, weights) }));
  await em.execute(
    `update email_message m set variant = g.variant, subject = case g.variant when 'B' then ? else m.subject end
     from jsonb_to_recordset(?::jsonb) as g(id uuid, variant text) where m.id = g.id`,
    [second!.published!.subject, JSON.stringify(given)],
  );
};
