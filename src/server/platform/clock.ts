import { notify } from "../../store/platform/notify";
import { TestClock } from "../../store/tables";
import type { EntityManager } from "../../store/orm";

/** The one source of `now` for requests, jobs and expiry. */
export interface Clock {
  now(): Date;
}

/** The machine's clock, shifted by an offset that only a test clock ever sets. */
export class ShiftableClock implements Clock {
  private offsetMs = 0;
  /** Counts what was asked and set: an answer that comes after a later one is stale. */
  private turn = 0;
  constructor(private readonly shiftable: boolean) {}

  now(): Date {
    return new Date(Date.now() + this.offsetMs);
  }

  /** Takes the offset that the database holds, so that every process shows the same time. */
  async refresh(em: EntityManager): Promise<void> {
    if (!this.shiftable) return;
    const turn = (this.turn += 1);
    const set = await em.findOne(TestClock, { single: true }, { refresh: true });
    if (turn === this.turn) this.offsetMs = set?.offsetMs ?? 0;
  }

  /** Moves this clock and, by notification, that of every other process. Throws where the clock is not a test clock. */
  async setTo(em: EntityManager, now: Date): Promise<void> {
    if (!this.shiftable) throw new Error("The clock can only be set where INKBELL_TEST_CLOCK=1 was set at start.");
    this.turn += 1;
    this.offsetMs = now.getTime() - Date.now();
    await em.upsert(TestClock, { single: true, offsetMs: this.offsetMs });
    await notify(em, "test_clock");
  }
}
