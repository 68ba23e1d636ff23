import type { Logger } from "pino";
import { describeError } from "../server/platform";

/**
 * Does something again and again: at once where there is more, after a pause where there is not, and after a longer one
 * where it failed. Never throws.
 */
export class Loop {
  private timer?: NodeJS.Timeout;
  private running: Promise<void> = Promise.resolve();
  private stopped = false;
  private waiting = false;
  private poked = false;

  constructor(
    private readonly name: string,
    /** Answers whether there is more to do. */
    private readonly work: () => Promise<boolean>,
    private readonly everyMs: number,
    private readonly log: Logger,
  ) {}

  start(): void {
    this.running = this.turn();
  }

  /** Has it look at once: there is something to do. Under way, it looks again when it is done. */
  poke(): void {
    if (this.stopped) return;
    this.poked = true;
    if (!this.waiting) return;
    clearTimeout(this.timer);
    this.start();
  }

  private async turn(): Promise<void> {
    this.waiting = false;
    this.poked = false;
    let pause = this.everyMs;
    try {
      if (await this.work()) pause = 0;
    } catch (error) {
      this.log.error({ loop: this.name, ...describeError(error) }, "work in the background stumbled; it goes on");
      pause = Math.max(1_000, this.everyMs);
    }
    if (this.stopped) return;
    this.waiting = true;
    this.timer = setTimeout(() => this.start(), this.poked ? 0 : pause);
  }

  /** Ends it, once what is under way is done. */
  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.running;
  }
}
