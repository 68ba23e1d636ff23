// `npm run bench -- scale [people]`: a launch's crowd loaded by SQL, then every screen of the desk, the files, and a bell.
import { randomUUID } from "node:crypto";
import { createTransport } from "nodemailer";
import pg from "pg";
import { stopChild } from "../scripts/lib/run.mjs";
import { startStack } from "../tests/support/browserStack";
import { loadCrowd, signedIn } from "./crowd";

const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const percentile = (values: number[], p: number) => [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * p))]!;

const conditions = ["", "all of (began a checkout; none of (paid))", "saw a sales page at least 2 times within 7 days"];
// Five conditions over all launches, as a vendor's filter has them.
const filter =
  'all of (opted in within 14 days; none of (paid); saw a sales page at least 2 times; none of (is in FR or IT); any of (began a checkout; is tagged "vip"))';
const screens = [
  "",
  "/new",
  "/products",
  "/coupons",
  "/tax",
  "/money",
  "/orders",
  "/orders?page=20",
  "/orders?search=p77%40scale",
  "/orders?state=refunded",
  "/people",
  "/people?find=p77%40scale",
  "/people?sort=-spent",
  `/people?${new URLSearchParams({ who: filter })}`,
  "/waiting",
  ...["score", "clock", "pages", "pages/sales", "offers", "partners", "markets", "leaks", "retarget", "comments"].map((room) => `/gansey/${room}`),
  "/settings",
  ...conditions.map((who) => `/gansey/people?${new URLSearchParams({ who })}`),
];
/** What screens ask for once they stand: counts of the whole crowd. */
const followUps = ["/gansey/audiences", ...conditions.map((who) => `/gansey/people/count?${new URLSearchParams({ who })}`)];

/** Medians of every screen of the desk, in milliseconds, and how long its files take from first to last byte. */
const deskScreens = async (origin: string, pool: pg.Pool): Promise<void> => {
  const [owner] = (await pool.query<{ id: string }>("select id from desk_user where role = 'owner' limit 1")).rows;
  const headers = { cookie: `ib_desk=${await signedIn(pool, "desk", owner!.id)}` };
  const get = async (path: string): Promise<{ ms: number; bytes: number; status: number }> => {
    const began = performance.now();
    const response = await fetch(`${origin}/desk${path}`, { headers });
    const bytes = (await response.arrayBuffer()).byteLength;
    return { ms: performance.now() - began, bytes, status: response.status };
  };
  const [order] = (
    await pool.query<{ id: string; person: string }>(
      "select s.id, c.person_id as person from sale_order s join contact c on c.id = s.contact_id order by s.placed_at desc limit 1",
    )
  ).rows;
  console.log("\nScreens of the desk, medians of five (goal 300 ms)");
  for (const path of [...screens, `/orders/${order!.id}`, `/people/${order!.person}`]) {
    const answers: Awaited<ReturnType<typeof get>>[] = [];
    for (let n = 0; n < 5; n += 1) answers.push(await get(path));
    const ms = median(answers.map((answer) => answer.ms));
    console.log(
      `  ${ms > 300 ? "!" : " "} ${`/desk${path}`.replace(order!.id, "…").replace(order!.person, "…").padEnd(38)} ${ms.toFixed(0).padStart(5)} ms ${(answers[0]!.bytes / 1024).toFixed(0).padStart(6)} KiB${answers[0]!.status === 200 ? "" : `, answered ${answers[0]!.status}`}`,
    );
  }
  console.log("Figures that follow their screen, medians of three");
  for (const path of followUps) {
    const times: number[] = [];
    for (let n = 0; n < 3; n += 1) {
      const asked = performance.now();
      await (await fetch(`${origin}/api/desk${path}`, { headers })).text();
      times.push(performance.now() - asked);
    }
    console.log(`    ${path.padEnd(78)} ${median(times).toFixed(0).padStart(5)} ms`);
  }
  console.log("Files, from the first to the last byte");
  for (const path of ["/orders/list.csv", "/people/list.csv", "/gansey/audience-looked.csv", "/gansey/audience-unfinished.csv"]) {
    const { ms, bytes } = await get(path);
    console.log(`    ${`/desk${path}`.padEnd(38)} ${ms.toFixed(0).padStart(5)} ms ${(bytes / 1024).toFixed(0).padStart(6)} KiB`);
  }
  const [partner] = (await pool.query<{ id: string }>("select partner_id as id from commission group by 1 order by count(*) desc limit 1")).rows;
  const portal = { headers: { cookie: `ib_partner=${await signedIn(pool, "partner", partner!.id)}` } };
  const began = performance.now();
  await (await fetch(`${origin}/partner`, portal)).text();
  console.log(`    ${"/partner".padEnd(38)} ${(performance.now() - began).toFixed(0).padStart(5)} ms`);
};

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

/** Emails to the whole list at a bell: how many a second, against plain pooled nodemailer; and what beginning a checkout costs meanwhile. */
const atABell = async (origin: string, settings: Record<string, string>, pool: pg.Pool): Promise<void> => {
  let running = true;
  setTimeout(() => (running = false), 6_000);
  const quiet = await checkoutStarts(origin, () => running);
  const inbox = settings["MAIL_INBOX_URL"]!;
  const accepted = async () => ((await (await fetch(`${inbox}/api/count?to=@scale.example`)).json()) as { accepted: number }).accepted;
  const [launch] = (
    await pool.query<{ id: string; settings: { emails: { id: string; hangsOn: string; minutes: number }[] } }>(
      "select id, settings from launch where slug = 'gansey'",
    )
  ).rows;
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
    (await (await fetch(`${inbox}/api/emails?to=@scale.example`)).json()) as { emails: { subject: string; text: string; html: string }[] }
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

/** Loads the crowd and measures. */
export const scale = async (people: number): Promise<void> => {
  const stack = await startStack("ink_bell_scale");
  const pool = new pg.Pool({ connectionString: stack.settings["DATABASE_URL"] });
  const began = performance.now();
  await loadCrowd(pool, people);
  const { rows } = await pool.query<Record<string, string>>(
    "select (select count(*) from person) as people, (select count(*) from event) as events, (select count(*) from sale_order) as orders, (select count(*) from partner) as partners",
  );
  const { people: n, events, orders, partners } = rows[0]!;
  console.log(
    `\nLoaded in ${((performance.now() - began) / 1000).toFixed(0)} s: ${n} people, ${events} events, ${orders} orders, ${partners} partners`,
  );
  const child = await stack.start();
  await deskScreens(stack.origin, pool);
  await atABell(stack.origin, stack.settings, pool);
  await stopChild(child);
  await pool.end();
  await stack.stopStandins();
};
