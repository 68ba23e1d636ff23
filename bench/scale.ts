// `npm run bench -- scale [people]`: a launch's crowd loaded by SQL, then every screen of the desk, the files, and a bell.
import pg from "pg";
import { stopChild } from "../scripts/lib/run.mjs";
import { startStack } from "../tests/support/browserStack";
import { atABell } from "./atABell";
import { loadCrowd, signedIn } from "./crowd";
import { median } from "./statistics";

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
  await atABell(stack.origin, stack.settings, pool, "scale.example");
  await stopChild(child);
  await pool.end();
  await stack.stopStandins();
};
