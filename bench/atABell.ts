import { randomUUID } from "node:crypto";
import { createTransport } from "nodemailer";
import type pg from "pg";
import { median, percentile } from "./statistics";

/** Begins checkouts of new visitors one after the other until told to stop; how long each took, in milliseconds. */
const checkoutStarts = async (origin: string, running: () => boolean): Promise<number[]> => {
  const times: number[] = [];
  for (let n = 0; running(); n += 1) {
    const body = new URLSearchParams({ email: `${randomUUID()}@start.example`, firstName: "Ada", country: "PT" });
    const began = performance.now();
    const response = await fetch(`${origin}/l/gansey/do/start`, {
      method: "POST",
      body,
      redirect: "manual",
      headers: { origin, cookie: `ib_v=${randomUUID()}` },
    });
    if (response.status !== 303) throw new Error(`a checkout could not be begun: ${response.status}`);
    times.push(performance.now() - began);
    await new Promise((next) => setTimeout(next, 20));
  }
  return times;
};

/** Emails at a bell to a list whose addresses end in a domain: how many a second, against plain pooled nodemailer; and what beginning a checkout costs meanwhile. */
export const atABell = async (origin: string, settings: Record<string, string>, pool: pg.Pool, domain: string): Promise<void> => {
  let running = true;
  setTimeout(() => (running = false), 6_000);
  const quiet = await checkoutStarts(origin, () => running);
  const inbox = settings["MAIL_INBOX_URL"]!;
  const accepted = async () => ((await (await fetch(`${inbox}/api/count?to=@${domain}`)).json()) as { accepted: number }).accepted;
  const [launch] = (
    await pool.query<{ id: string; settings: { emails: { id: string; hangsOn: string; minutes: number }[] } }>(
      "select id, settings from launch where slug = 'gansey'",
    )
  ).rows;
  // At any hour, and as many as are due: what is measured is how fast they go.
  await pool.query(`update sending_setting set limits = '{"quiet": null, "perDay": null, "perMinute": null}'`);
  const email = launch!.settings.emails.find(({ hangsOn, minutes }) => hangsOn === "opening" && minutes === 0)!;
  const began = performance.now();
  const run = randomUUID();
  // A bell of a moment ago, whose email is to be queued: the worker finds it as it finds any.
  await pool.query(
    `update launch set settings = jsonb_set(settings, '{clock,opens}', to_jsonb(to_char(now() at time zone zone, 'YYYY-MM-DD"T"HH24:MI'))) where id = $1`,
    [launch!.id],
  );
  await pool.query("select pg_notify('launch_changed', '')");
  await pool.query(
    "insert into bell_run (id, launch_id, key, email_id, at, label, ran_at, outcome) values ($1, $2, $3, $4, now(), 'Email', now(), '')",
    [run, launch!.id, `email:${email.id}`, email.id],
  );
  await pool.query("insert into outbox (topic, payload, key, due_at) values ('queue_emails', $1, $2, now())", [{ id: run }, `emails:${run}`]);
  // By themselves first, once they are all queued, then with buyers beside them.
  const queued = async () =>
    (await pool.query<{ done: boolean }>("select queued_at is not null as done from bell_run where id = $1", [run])).rows[0]!.done;
  while (!(await queued())) await new Promise((next) => setTimeout(next, 100));
  console.log(`\nAt a bell: all emails are queued after ${((performance.now() - began) / 1000).toFixed(1)} s`);
  // The plainest thing that does the same: the same mail server, as many connections, and the very email, ready made.
  const [sample] = (
    (await (await fetch(`${inbox}/api/emails?to=@${domain}`)).json()) as { emails: { subject: string; text: string; html: string }[] }
  ).emails;
  const { subject, text, html } = sample!;
  const transport = createTransport({ url: settings["SMTP_URL"]!, pool: true, maxConnections: 6, maxMessages: 10_000 });
  const plainly = async (count: number): Promise<number> => {
    const plainBegan = performance.now();
    await Promise.all(
      Array.from({ length: count }, (_, n) => transport.sendMail({ from: "a@b.example", to: `plain${n}@plain.example`, subject, text, html })),
    );
    return count / ((performance.now() - plainBegan) / 1000);
  };
  /** How many emails of the app are taken a second while something else is done. */
  const perSecond = async (meanwhile: () => Promise<unknown>): Promise<number> => {
    const [from, since] = [await accepted(), performance.now()];
    await meanwhile();
    return ((await accepted()) - from) / ((performance.now() - since) / 1000);
  };
  const wait = (ms: number) => new Promise((next) => setTimeout(next, ms));
  /** Holds back what waits, or lets it go again. */
  const hold = (held: boolean) =>
    pool.query(`update email_message set due_at = due_at ${held ? "+" : "-"} interval '1 hour' where state = 'due' and kind = 'bell'`);
  console.log("\nAt a bell: emails a second against plain pooled nodemailer (goal 0.70, 3 rounds in turn)");
  const ratios: number[] = [];
  for (let round = 0; round < 3; round += 1) {
    const app = await perSecond(() => wait(6_000));
    await hold(true);
    await wait(2_000);
    const plain = await plainly(2_000);
    await hold(false);
    await wait(1_000);
    ratios.push(app / plain);
    console.log(`  app ${app.toFixed(0)}/s   plain ${plain.toFixed(0)}/s   ratio ${(app / plain).toFixed(2)}`);
  }
  running = true;
  const busy = checkoutStarts(origin, () => running);
  const beside = await perSecond(() => wait(10_000));
  running = false;
  const during = await busy;
  await pool.query("update email_message set state = 'stopped' where state = 'due' and kind = 'bell'");
  transport.close();
  console.log(`  median ratio ${median(ratios).toFixed(2)}; with checkouts beside them ${beside.toFixed(0)} emails a second`);
  console.log(
    `Beginning a checkout: quiet median ${median(quiet).toFixed(0)} ms, p90 ${percentile(quiet, 0.9).toFixed(0)}; while emails go ${median(during).toFixed(0)}, p90 ${percentile(during, 0.9).toFixed(0)} (goal: under twice the quiet time)`,
  );
};
