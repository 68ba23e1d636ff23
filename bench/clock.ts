import { performance } from "node:perf_hooks";
import pg from "pg";
import { answerSpans, bells, countdownSpans, planOf, view, type LaunchSettings, type Viewer } from "../src/core/launch";
import { planFor, personalClock, sourceFor } from "../tests/support/plans";

const start = new Date("2026-11-20T18:00:00Z");
const minute = 60_000;

/** How many persons a second one core works out, each with their own clock. */
export const viewsPerSecond = (): void => {
  const clocks = {
    "fixed dates": planFor(),
    "a clock for each person, exact": planFor({ clock: personalClock, shape: "short" }),
    "a clock for each person, until 20:00": planFor({
      clock: { ...personalClock, length: { kind: "until", minutes: 3 * 1440, time: "20:00" } },
      shape: "short",
    }),
  };
  console.log("\nview(launch, person, at) on one core, 100,000 different persons");
  for (const [name, plan] of Object.entries(clocks)) {
    const people: Viewer[] = Array.from({ length: 100_000 }, (_, n) => ({ starts: [new Date(start.getTime() + n * 1_000)] }));
    const at = new Date(start.getTime() + 2 * 1440 * minute);
    people.slice(0, 2_000).forEach((who) => view(plan, { ...who }, at));
    const rounds = Array.from({ length: 9 }, () => {
      const began = performance.now();
      for (const who of people) view(plan, who, at);
      return people.length / ((performance.now() - began) / 1000);
    }).sort((a, b) => a - b);
    console.log(`  ${name}: ${Math.round(rounds[4]!).toLocaleString("en")} a second, median of 9 rounds (goal 100,000)`);
  }
};

/** The work behind one step of the playhead, and behind a change of what the lanes draw, with 200 bells. */
export const playhead = (): void => {
  const emails: LaunchSettings["emails"] = Array.from({ length: 196 }, (_, n) => ({
    id: `l${n}`,
    hangsOn: "closing",
    minutes: -n * 40,
    time: null,
    to: "list",
  }));
  const source = sourceFor({ settings: { emails } });
  const plan = planOf(source);
  const range = { from: new Date(start.getTime() - 10 * 1440 * minute), to: new Date(start.getTime() + 8 * 1440 * minute) };
  const median = (work: () => void) => {
    const times = Array.from({ length: 60 }, () => {
      const began = performance.now();
      work();
      return performance.now() - began;
    }).sort((a, b) => a - b);
    return times[30]!;
  };
  let n = 0;
  const step = median(() => view(plan, {}, new Date(start.getTime() + (n += 15) * minute)));
  const lanes = median(() => {
    bells(plan, {}, range);
    for (const page of plan.pages) answerSpans(plan, {}, page.slug, range.from, range.to);
    countdownSpans(plan, {}, range.from, range.to);
  });
  console.log(`\nThe score with ${bells(plan).length} bells (a frame is 16.7 ms)`);
  console.log(`  one step of the playhead ${step.toFixed(3)} ms, all lanes anew ${lanes.toFixed(1)} ms`);
};

/** A crowd of 5,000 requests while the doors open: which page each was answered with, judged by the instant it was answered at. */
export const crowdAtTheBell = async (
  origin: string,
  databaseUrl: string,
  load: (url: string) => Promise<number>,
  bare: (body: string) => Promise<number>,
): Promise<void> => {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const now = async () => new Date(((await (await fetch(`${origin}/healthz`)).json()) as { now: string }).now).getTime();
  const { rows } = await client.query<{ settings: LaunchSettings }>("select settings from launch where slug = 'mittens'");
  await client.query(
    "update page set published = draft, compiled = (select compiled from page q join launch l on l.id = q.launch_id where l.slug = 'gansey' and q.key = page.key) where launch_id = (select id from launch where slug = 'mittens') and key in ('optin', 'sales', 'checkout', 'thanks', 'closed')",
  );
  await client.query("select pg_notify('launch_changed', '')");
  const { clock } = rows[0]!.settings;
  if (clock.kind !== "fixed") throw new Error("the draft of the demo has dates");
  const opens = planOf({ ...sourceFor(), settings: rows[0]!.settings }).clock;
  const bell = opens.kind === "fixed" ? opens.window.opens.getTime() : 0;
  const seconds = (bell - (await now())) / 1000 - 2;
  await fetch(`${origin}/api/test/clock`, {
    method: "POST",
    headers: { origin, "content-type": "application/json" },
    body: JSON.stringify({ advanceSeconds: seconds }),
  });
  const address = `${origin}/l/mittens`;
  let [before, after, wrong] = [0, 0, 0];
  // The page carries the instant it was answered at and what it counts to: an opt-in after the bell, or a sale before it, would show here.
  const ask = async () => {
    const body = await (await fetch(address)).text();
    const at = Number(/data-now="(\d+)"/.exec(body)?.[1]);
    const until = Number(/data-until="(\d+)"/.exec(body)?.[1]);
    if (at < bell && until === bell) before += 1;
    else if (at >= bell && until > bell) after += 1;
    else wrong += 1;
  };
  let asked = 0;
  const worker = async () => {
    while (asked++ < 5_000) await ask();
  };
  const began = performance.now();
  await Promise.all(Array.from({ length: 64 }, worker));
  const perSecond = 5_000 / ((performance.now() - began) / 1000);
  console.log(`\nDoors open before a crowd of 5,000 requests, 64 at a time (${perSecond.toFixed(0)}/s with their reading)`);
  console.log(`  before the bell ${before}, after it ${after}, wrong ${wrong}`);
  const body = await (await fetch(address)).text();
  const [app, plain] = [await load(address), await bare(body)];
  console.log(
    `  the same page right after the bell: app ${app.toFixed(0)}/s, bare node:http ${plain.toFixed(0)}/s, ratio ${(app / plain).toFixed(2)}`,
  );
  await client.end();
};
