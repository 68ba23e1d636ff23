// One email of a bell queued for everybody on a long list, beside one hand-written INSERT … SELECT of the same rows.
import { randomUUID } from "node:crypto";
import pg from "pg";
import { queueBellEmails } from "../src/server/launch";
import { theApp } from "../src/server/platform/app";
import { loadList } from "./list";
import { median } from "./statistics";

const rounds = 3;

/** Queues one email to the whole list by the app and by hand, in turn. */
export const planning = async (settings: Record<string, string>, people: number): Promise<void> => {
  const pool = new pg.Pool({ connectionString: settings["DATABASE_URL"] });
  const [launch] = (await pool.query<{ id: string; settings: { emails: { id: string; hangsOn: string; to: string }[] } }>("select id, settings from launch where slug = 'gansey'")).rows; // prettier-ignore
  const email = launch!.settings.emails.find(({ hangsOn, to }) => hangsOn === "closing" && to === "not_bought")!;
  await loadList(pool, launch!.id, people, "planning.example");
  await pool.query("delete from email_message where kind = 'bell'");
  const app = await theApp({ ...settings, INKBELL_LOG: "error" });
  /** How many were queued, and in how many milliseconds; what was queued is taken out again. */
  const timed = async (work: () => Promise<unknown>): Promise<{ n: number; ms: number }> => {
    const began = performance.now();
    await work();
    const ms = performance.now() - began;
    const { rowCount } = await pool.query("delete from email_message where kind = 'bell'");
    await pool.query("vacuum analyze email_message");
    return { n: rowCount!, ms };
  };
  const byApp = async (): Promise<void> => {
    const run = randomUUID();
    await pool.query(
      "insert into bell_run (id, launch_id, key, email_id, at, label, ran_at, outcome) values ($1, $2, $3, $4, now(), 'Email', now(), '')",
      [run, launch!.id, `planning:${run}`, email.id],
    );
    await queueBellEmails(app, run);
  };
  const byHand = () =>
    pool.query(
      `insert into email_message (id, key, kind, launch_id, contact_id, due_at, last_call, data)
       select gen_random_uuid(), 'hand:' || c.id, 'bell', $1, c.id, now(), false, $2::jsonb from contact c
       join stage_rollup r on r.person_id = c.person_id and r.launch_id = $1 and r.opted_in is not null
       where c.consent_at is not null and c.unsubscribed_at is null and c.suppressed_at is null
         and not exists (select from launch_opt_out x where x.contact_id = c.id and x.launch_id = $1)
         and not exists (select from sale_order o where o.launch_id = $1 and o.contact_id = c.id and not o.test)`,
      [launch!.id, JSON.stringify({ email: email.id })],
    );
  console.log(`\nOne email queued for a list of ${people.toLocaleString("en")}, against one INSERT … SELECT (goal 0.50, ${rounds} rounds in turn)`);
  const ratios: number[] = [];
  for (let round = 0; round < rounds; round += 1) {
    const [own, hand] = [await timed(byApp), await timed(byHand)];
    if (own.n !== hand.n) throw new Error(`the app queued ${own.n}, the statement ${hand.n}`);
    ratios.push(hand.ms / own.ms);
    console.log(`  ${own.n} emails   app ${own.ms.toFixed(0)} ms   by hand ${hand.ms.toFixed(0)} ms   ratio ${(hand.ms / own.ms).toFixed(2)}`);
  }
  console.log(`  median ratio ${median(ratios).toFixed(2)}`);
  await app.stop();
  await pool.end();
};
