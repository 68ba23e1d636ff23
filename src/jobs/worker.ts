import { beat, endBeat, lockQueues, putBackWork, takeDueWork } from "../store/work/queueTables";
import { randomUUID } from "node:crypto";
import PgBoss from "pg-boss";
import pg from "pg";
import { isWorkTopic, workTopicNames, workTopics, type WorkPayload, type WorkTopic } from "../core/work";
import { type App, describeError } from "../server/platform";
import { foldCounters } from "../store/events/counters";
import { returnsListener, runSequences } from "../server/emails";
import { runRules } from "../server/people";
import { queueMessages, WebhookSender } from "../server/webhooks";
import { runMaintenance } from "./maintenance";
import { Loop } from "./loop";
import { mailLoops } from "./mailLanes";
import { sweep } from "./sweep";
import { handlers } from "./registry";

/** How often a worker says that it lives, and how long a job waits for a worker that does not say so any more. */
const beatMs = 4_000;
const jobLeaseSeconds = 20;

interface Work {
  payload?: unknown;
  /** What the work is about, in jobs that an earlier version handed over. */
  id?: string;
  key?: string | null;
  tries: number;
  firstDueAt: string;
}
type Job = PgBoss.Job<Work>;

/** Why work did not succeed, in one line. Not the database's message: it quotes values. */
const reasonOf = (error: unknown): string => {
  const { name, code } = describeError(error);
  if (code) return `${name} ${code}`;
  return error instanceof Error ? error.message.slice(0, 120) : name;
};

/**
 * Works in the background. What is due in the outbox (by the app's clock) is handed to pg-boss in one transaction; jobs
 * carry a heartbeat while they run, and one whose worker is gone is taken up by another within seconds. What failed goes
 * back into the outbox with why, to be tried again after a while; nothing is ever given up. Emails are claimed from their
 * own table by lanes of their own.
 */
export class Worker {
  readonly id = randomUUID();
  private readonly boss: PgBoss;
  private readonly pool: pg.Pool;
  private readonly underWay = new Set<string>();
  private loops: Loop[] = [];
  private byTopic = new Map<WorkTopic, Loop>();
  private readonly webhooks: WebhookSender;
  private returns: ReturnType<typeof returnsListener>;
  ready = false;

  constructor(private readonly app: App) {
    this.boss = new PgBoss({ connectionString: app.config.DATABASE_URL, max: 4, maintenanceIntervalSeconds: 10 });
    this.boss.on("error", (error) => app.log.error(describeError(error), "queue"));
    this.webhooks = new WebhookSender(app);
    this.pool = new pg.Pool({ connectionString: app.config.DATABASE_URL, max: 2 });
    // Without listeners a lost connection would take the process down: one for those that idle, one for those in use.
    this.pool.on("connect", (client) => client.on("error", () => undefined));
    this.pool.on("error", (error) => app.log.error(describeError(error), "worker lost the database; it will come back"));
  }

  /** Makes the queues. One process at a time: two that start together would wait for one another's tables. */
  private async makeQueues(): Promise<void> {
    const client = await this.pool.connect();
    try {
      await lockQueues(client);
      await this.boss.start();
      for (const topic of [...workTopicNames, "maintenance"]) await this.boss.createQueue(topic);
      await this.boss.schedule("maintenance", "17 * * * *");
    } finally {
      // Ending the connection gives the lock back, whatever happened.
      client.release(true);
    }
  }

  async start(): Promise<void> {
    await this.makeQueues();
    await this.beat();
    await runMaintenance(this.app);
    await sweep(this.app);
    await this.boss.work("maintenance", () => runMaintenance(this.app));
    const { log } = this.app;
    // What this process hands over is worked off at once; what others handed over and did not get to, within seconds.
    this.byTopic = new Map(workTopicNames.map((topic) => [topic, new Loop(topic, () => this.workOff(topic), 2_000, log)]));
    this.loops = [
      new Loop("heartbeat", () => this.beat(), beatMs, log),
      new Loop("outbox", () => this.handOver(), 250, log),
      new Loop("sweep", async () => (await sweep(this.app), false), 10_000, log),
      new Loop("rules of people", async () => (await runRules(this.app), false), 5_000, log),
      new Loop("sequences", async () => (await runSequences(this.app), false), 5_000, log),
      new Loop("webhooks", () => queueMessages(this.app), 2_000, log),
      new Loop("webhooks to send", async () => (await this.webhooks.sendDue(), false), 500, log),
      new Loop("counters", async () => (await foldCounters(this.app.fork()), false), 30_000, log),
      ...this.byTopic.values(),
      ...mailLoops(this.app, this.id),
    ];
    for (const loop of this.loops) loop.start();
    this.returns = returnsListener(this.app);
    this.ready = true;
  }

  /** Says that this worker lives, and so do the jobs it has in hand: pg-boss gives up on those that began too long ago. */
  private async beat(): Promise<boolean> {
    await beat(this.pool, this.id, [...this.underWay]);
    return false;
  }

  /** Does one piece of work. What it carries is read as its kind says: rows may be older than the program. */
  private work<T extends WorkTopic>(topic: T, payload: unknown): Promise<void> {
    const read = workTopics[topic].payload.safeParse(payload);
    if (!read.success) return Promise.reject(new Error("what it carries is not understood"));
    return handlers[topic].run(this.app, read.data as WorkPayload<T>);
  }

  /** Takes jobs of one topic and does them. Answers whether there may be more. */
  private async workOff(topic: WorkTopic): Promise<boolean> {
    const { concurrency } = handlers[topic];
    const jobs: Job[] = await this.boss.fetch<Work>(topic, { batchSize: concurrency });
    await Promise.all(
      jobs.map(async (job) => {
        this.underWay.add(job.id);
        try {
          await this.work(topic, job.data.payload ?? { id: job.data.id });
          await this.boss.complete(topic, job.id);
        } catch (error) {
          const why = describeError(error);
          this.app.log.error({ topic, ...why }, "work will be tried again");
          await this.putBack(topic, job, reasonOf(error));
        } finally {
          this.underWay.delete(job.id);
        }
      }),
    );
    return jobs.length === concurrency;
  }

  /** What failed waits in the outbox again. Queued anew meanwhile, it stays as it was queued. */
  private async putBack(topic: WorkTopic, { id: jobId, data }: Job, because: string): Promise<void> {
    const tries = (data.tries ?? 0) + 1;
    const now = this.app.clock.now();
    await this.inTransaction(async (client) => {
      await putBackWork(client, {
        topic,
        payload: data.payload ?? { id: data.id },
        key: data.key ?? null,
        dueAt: new Date(now.getTime() + handlers[topic].retryMs(tries)),
        tries,
        because,
        firstDueAt: data.firstDueAt ?? now,
      });
      const db = { executeSql: (text: string, values: unknown[]) => client.query(text, values) };
      await this.boss.complete(topic, jobId, {}, { db });
    });
  }

  private async handOver(): Promise<boolean> {
    const moved = await this.inTransaction(async (client) => {
      const rows = await takeDueWork(client, workTopicNames, this.app.clock.now(), 200);
      const db = { executeSql: (text: string, values: unknown[]) => client.query(text, values) };
      for (const { topic, payload, key, tries, due_at, first_due_at } of rows) {
        const work: Work = { payload, key, tries, firstDueAt: (first_due_at ?? due_at).toISOString() };
        // Tried again by pg-boss only where a worker ended with it; what fails goes by way of the outbox.
        await this.boss.send(topic, work, { db, retryLimit: 1_000, retryDelay: 0, expireInSeconds: jobLeaseSeconds });
      }
      return rows.map(({ topic }) => topic);
    });
    for (const topic of new Set(moved)) if (isWorkTopic(topic)) this.byTopic.get(topic)?.poke();
    return moved.length > 0;
  }

  private async inTransaction<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
    const client = await this.pool.connect();
    try {
      await client.query("begin");
      const done = await work(client);
      await client.query("commit");
      return done;
    } catch (error) {
      await client.query("rollback").catch(() => undefined);
      throw error;
    } finally {
      client.release();
    }
  }

  async stop(): Promise<void> {
    await this.returns?.stop();
    await Promise.all(this.loops.map((loop) => loop.stop()));
    await this.webhooks.stop();
    await this.boss.stop({ graceful: true, timeout: 5_000 });
    await endBeat(this.pool, this.id).catch(() => undefined);
    await this.pool.end();
  }
}
