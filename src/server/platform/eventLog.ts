import { keepActive } from "../../store/checkout/keepActive";
import type { Logger } from "pino";
import type { EntityManager } from "../../store/orm";
import { writeEvents, type LoggedEvent } from "../../store/events/writeEvents";
import { describeError } from "./describeError";

const everyMs = 400;
const mostAtOnce = 5_000;

/** Whether a value does not fit its column (SQLSTATE class 22): trying again would not help. */
const isDataError = (error: unknown): boolean => error instanceof Error && "code" in error && String(error.code).startsWith("22");

/**
 * Page views, kept in memory for a moment and written in batches off the request path. What must not be lost
 * (opt-ins, checkouts, payments) is written in its own transaction with `writeEvents` instead.
 */
export class EventLog {
  private waiting: LoggedEvent[] = [];
  private timer?: NodeJS.Timeout;
  private writing: Promise<void> = Promise.resolve();
  constructor(
    private readonly fork: () => EntityManager,
    private readonly log: Logger,
  ) {}

  add(event: LoggedEvent): void {
    this.waiting.push(event);
    if (this.waiting.length >= mostAtOnce) void this.flush();
    else this.timer ??= setTimeout(() => void this.flush(), everyMs);
  }

  /** Writes a batch. An event that the database can never take is left out, so that it does not hold up all others. */
  private async write(batch: LoggedEvent[]): Promise<void> {
    try {
      await this.fork().transactional((tx) => writeEvents(tx, batch));
    } catch (error) {
      if (!isDataError(error)) throw error;
      if (batch.length === 1) return this.log.error({ ...describeError(error), kind: batch[0]!.kind }, "an event cannot be kept");
      const half = Math.ceil(batch.length / 2);
      await this.write(batch.slice(0, half));
      await this.write(batch.slice(half));
    }
  }

  /** Notes which checkouts a batch looked at. The events stand by then: what fails here must not have them written again. */
  private async noteLooks(batch: readonly LoggedEvent[]): Promise<void> {
    const looks = batch.filter(({ kind, page }) => kind === "visited" && page === "checkout");
    if (looks.length === 0) return;
    try {
      await keepActive(this.fork(), looks);
    } catch (error) {
      this.log.error(describeError(error), "which checkouts were looked at is not noted");
    }
  }

  /** Writes all that waits. Never throws: a failed batch is logged and tried again with the next. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const batch = this.waiting;
    this.waiting = [];
    this.writing = this.writing.then(async () => {
      try {
        if (batch.length > 0) await this.write(batch);
        await this.noteLooks(batch);
      } catch (error) {
        this.log.error({ ...describeError(error), events: batch.length }, "events could not be written yet");
        if (this.waiting.length < 20 * mostAtOnce) this.waiting.unshift(...batch);
        this.timer ??= setTimeout(() => void this.flush(), 2_000);
      }
    });
    return this.writing;
  }

  async stop(): Promise<void> {
    await this.flush();
    clearTimeout(this.timer);
  }
}
