import PgBoss from "pg-boss";
import pg from "pg";
import type { App } from "../server/app/app";
import { describeError } from "../server/app/describeError";
import type { OutboxTopic } from "../server/app/outbox";
import { sendEmail } from "../server/emails/sendEmail";
import { keepHouse } from "./housekeeping";
import { hangLetters } from "../server/launch/letters";
import { ringBells, tellVendor } from "../server/launch/ring";
import { welcomePartner } from "../server/partners/applications";
import { settleCharge } from "../server/offers/charging";
import { settleRefund } from "../server/offers/refunds";
import { takeHeld } from "../server/offers/sending";
import { takeDuePayment } from "../server/offers/takePayment";

const handlers: Record<OutboxTopic, (app: App, id: string) => Promise<void>> = {
  send_email: sendEmail,
  settle_charge: settleCharge,
  take_payment: takeDuePayment,
  settle_refund: settleRefund,
  take_held: takeHeld,
  ring_bells: ringBells,
  tell_vendor: tellVendor,
  hang_letters: hangLetters,
  welcome_partner: welcomePartner,
};
const topics = Object.keys(handlers) as OutboxTopic[];

/**
 * Runs the queue: hands outbox rows that are due by the app's clock to pg-boss, and works its jobs off. Handing over is
 * one transaction (row gone, job there), so a crash loses nothing; a job may run twice, and every handler is idempotent.
 */
export class Worker {
  private readonly boss: PgBoss;
  private readonly pool: pg.Pool;
  private timer?: NodeJS.Timeout;
  private running: Promise<unknown> = Promise.resolve();
  private stopped = false;
  ready = false;

  constructor(private readonly app: App) {
    this.boss = new PgBoss({ connectionString: app.config.DATABASE_URL, max: 4 });
    this.boss.on("error", (error) => app.log.error(describeError(error), "queue"));
    this.pool = new pg.Pool({ connectionString: app.config.DATABASE_URL, max: 2 });
    // Without listeners a lost connection would take the process down: one for those that idle, one for those in use.
    this.pool.on("connect", (client) => client.on("error", () => undefined));
    this.pool.on("error", (error) => app.log.error(describeError(error), "worker lost the database; it will come back"));
  }

  /** Makes the queues. One process at a time: two that start together would wait for one another's tables. */
  private async makeQueues(): Promise<void> {
    const client = await this.pool.connect();
    try {
      await client.query("select pg_advisory_lock(748203)");
      await this.boss.start();
      for (const topic of topics) await this.boss.createQueue(topic, { name: topic, retryLimit: 12, retryDelay: 2, retryBackoff: true });
      await this.boss.createQueue("keep_house", { name: "keep_house", policy: "singleton" });
      await this.boss.schedule("keep_house", "17 * * * *");
    } finally {
      // Ending the connection gives the lock back, whatever happened.
      client.release(true);
    }
  }

  async start(): Promise<void> {
    await this.makeQueues();
    for (const topic of topics) {
      await this.boss.work<{ id: string }>(topic, { pollingIntervalSeconds: 0.5, batchSize: 60 }, async (jobs) => {
        const done = await Promise.allSettled(jobs.map((job) => handlers[topic](this.app, job.data.id)));
        const failed = done.flatMap((result, index) =>
          result.status === "rejected" ? [{ job: jobs[index]!, reason: describeError(result.reason) }] : [],
        );
        for (const { reason } of failed) this.app.log.error({ topic, ...reason }, "a job will be tried again");
        // The others are done and must not run again with the failed ones.
        await Promise.all(failed.map(({ job, reason }) => this.boss.fail(topic, job.id, { reason })));
      });
    }
    await keepHouse(this.app);
    await this.boss.work("keep_house", () => keepHouse(this.app));
    this.ready = true;
    this.tick();
  }

  private tick(): void {
    if (this.stopped) return;
    this.running = this.handOver()
      .catch((error: unknown) => this.app.log.error(describeError(error), "outbox"))
      .then((moved) => {
        if (!this.stopped) this.timer = setTimeout(() => this.tick(), moved ? 0 : 250);
      });
  }

  private async handOver(): Promise<boolean> {
    const client = await this.pool.connect();
    try {
      await client.query("begin");
      const { rows } = await client.query<{ id: string; topic: OutboxTopic; payload: { id: string } }>(
        "select id, topic, payload from outbox where due_at <= $1 order by due_at limit 200 for update skip locked",
        [this.app.clock.now()],
      );
      const db = { executeSql: (text: string, values: unknown[]) => client.query(text, values) };
      for (const { topic, payload } of rows) await this.boss.send(topic, payload, { db, retryLimit: 12, retryDelay: 2, retryBackoff: true });
      await client.query("delete from outbox where id = any($1)", [rows.map(({ id }) => id)]);
      await client.query("commit");
      return rows.length > 0;
    } catch (error) {
      await client.query("rollback").catch(() => undefined);
      throw error;
    } finally {
      client.release();
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.running;
    await this.boss.stop({ graceful: true, timeout: 5_000 });
    await this.pool.end();
  }
}
