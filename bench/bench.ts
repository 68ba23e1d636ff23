// `npm run bench`: ratios measured side by side in one run. Nothing here fails a build; the numbers are read by people.
import { spawn } from "node:child_process";
import { randomUUID } from "node:crypto";
import autocannon from "autocannon";
import pg from "pg";
import { stopChild } from "../scripts/lib/run.mjs";
import { startStack } from "../tests/support/browserStack";
import { logins } from "../demo/logins.mjs";
import { atABell } from "./atABell";
import { crowdAtTheBell, playhead, viewsPerSecond } from "./clock";
import { loadList } from "./list";
import { pathEconomics } from "./offers";
import { orderTransaction } from "./orders";
import { planning } from "./planning";
import { scale } from "./scale";
import { starts } from "./starts";
import { median } from "./statistics";
import { editorActions, longPage, templateWeights } from "./pages";

const seconds = Number(process.env["BENCH_SECONDS"] ?? 6);

const load = async (url: string): Promise<number> => {
  const result = await autocannon({ url, connections: 32, duration: seconds, headers: { cookie: `ib_v=${randomUUID()}` } });
  if (result.non2xx > 0 || result.errors > 0) throw new Error(`${url}: ${result.non2xx} answers were not 2xx, ${result.errors} errors`);
  return result.requests.average;
};

/** A bare server with the same bytes, in a process of its own as the app is. */
const bareServer = async (body: string) => {
  const source = `const body=Buffer.from(process.env.BODY,"base64");require("http").createServer((q,s)=>{s.writeHead(200,{"content-type":"text/html","content-length":body.length});s.end(body)}).listen(0,"127.0.0.1",function(){console.log(this.address().port)})`;
  const child = spawn(process.execPath, ["-e", source], { env: { ...process.env, BODY: Buffer.from(body).toString("base64") } });
  const port = await new Promise<string>((done) => child.stdout.once("data", (data: Buffer) => done(data.toString().trim())));
  return { url: `http://127.0.0.1:${port}/`, child };
};

const publicPage = async (origin: string): Promise<void> => {
  const address = `${origin}/l/gansey/join`;
  const body = await (await fetch(address)).text();
  const bare = await bareServer(body);
  const pairs: [number, number][] = [];
  for (let round = 0; round < 3; round += 1) pairs.push([await load(address), await load(bare.url)]);
  bare.child.kill();
  const ratio = median(pairs.map(([app, plain]) => app / plain));
  console.log(
    `\nPublished sales page against bare node:http with the same ${Buffer.byteLength(body)} bytes (32 connections, ${seconds} s, 3 rounds in turn)`,
  );
  for (const [app, plain] of pairs) console.log(`  app ${app.toFixed(0)}/s   bare ${plain.toFixed(0)}/s   ratio ${(app / plain).toFixed(2)}`);
  console.log(`  median ratio ${ratio.toFixed(2)} (goal 0.50)`);
};

const core = async (): Promise<void> => {
  viewsPerSecond();
  playhead();
  templateWeights();
  await pathEconomics();
};
const web = async (): Promise<void> => {
  const stack = await startStack("ink_bell_bench");
  const child = await stack.start();
  await publicPage(stack.origin);
  const pool = new pg.Pool({ connectionString: stack.settings["DATABASE_URL"] });
  await pool.query("update page set draft = $1 where key = 'episodes/1' and launch_id = (select id from launch where slug = 'mittens')", [
    longPage(),
  ]);
  await pool.end();
  await editorActions(
    stack.origin,
    logins.find(({ role }) => role === "owner")!,
    "/desk/mittens/pages/episodes/1",
  );
  await crowdAtTheBell(stack.origin, stack.settings["DATABASE_URL"]!, load, async (body) => {
    const bare = await bareServer(body);
    const perSecond = await load(bare.url);
    bare.child.kill();
    return perSecond;
  });
  await stopChild(child);
  await stack.stopStandins();
};
// A stack of its own: the crowd at the bell has moved the other one's clock past the closing of its doors.
const orders = async (): Promise<void> => {
  const stack = await startStack("ink_bell_bench_orders");
  await orderTransaction(stack.settings);
  await stack.stopStandins();
};

const plan = async (people: number): Promise<void> => {
  const stack = await startStack("ink_bell_bench_planning");
  await planning(stack.settings, people);
  await stack.stopStandins();
};

/** A list of its own in front of the built app and its worker. */
const emails = async (people: number): Promise<void> => {
  const stack = await startStack("ink_bell_bench_emails");
  const pool = new pg.Pool({ connectionString: stack.settings["DATABASE_URL"] });
  const [launch] = (await pool.query<{ id: string }>("select id from launch where slug = 'gansey'")).rows;
  await loadList(pool, launch!.id, people, "bell.example");
  const child = await stack.start();
  await atABell(stack.origin, stack.settings, pool, "bell.example");
  await stopChild(child);
  await pool.end();
  await stack.stopStandins();
};

const begin = async (): Promise<void> => {
  const stack = await startStack("ink_bell_bench_starts");
  await starts(stack.settings);
  await stack.stopStandins();
};

// `npm run bench -- orders`, `-- starts`, `-- planning [people]`, `-- emails [people]` or `-- scale [people]` measures that alone.
const [only, size] = process.argv.slice(2);
if (only === undefined) await core();
if (only === undefined || only === "web") await web();
if (only === undefined || only === "orders") await orders();
if (only === undefined || only === "starts") await begin();
if (only === undefined || only === "planning") await plan(Number(size ?? 100_000));
if (only === "emails") await emails(Number(size ?? 20_000));
if (only === undefined || only === "scale") await scale(Number(size ?? 100_000));
