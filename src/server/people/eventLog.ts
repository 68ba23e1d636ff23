import type { Logger } from "pino";
import type { EventFact } from "../../core/events";
import type { EntityManager } from "../../store/orm";
import { countEvents, personOfVisitor } from "../../store/statements/countEvents";
import { prepared } from "../../store/statements/prepared";
import { describeError } from "../app/describeError";

/** One thing a visitor did on a launch's pages, with what belongs to it. */
export type LoggedEvent = EventFact & {
  launchId: string;
  visitorId: string;
  at: Date;
  page: string;
  country?: string;
};

/**
 * One thing a person did, as a row for the statement that writes a sale. Without a browser where they did it elsewhere, or
 * where somebody did it for them.
 */
export const eventRow = (
  by: { launchId: string; personId: string; visitorId: string | null; at: Date; page: string; country?: string | null },
  { kind, data }: EventFact,
) => ({
  launch_id: by.launchId,
  person_id: by.personId,
  visitor_id: by.visitorId,
  kind,
  at: by.at,
  page: by.page,
  country: by.country ?? null,
  data,
});

const everyMs = 400;
const mostAtOnce = 5_000;

const insertBatch = `with ${countEvents("jsonb_to_recordset(?::jsonb)", personOfVisitor)} select 1`;

// The version that a person saw first stays theirs.
const insertPages = /* sql */ `
insert into page_rollup as r (launch_id, page, person_id, variant, seen_at, acted_at)
select b.launch_id, b.page, ${personOfVisitor}, (array_agg(b.variant order by b.at))[1], min(b.at), min(b.at) filter (where b.kind = 'opted_in')
from jsonb_to_recordset(?::jsonb) as b(launch_id uuid, visitor_id uuid, kind text, at timestamptz, page text, variant text)
group by 1, 2, 3 order by 1, 2, 3
on conflict (launch_id, page, person_id) do update set
  seen_at = least(r.seen_at, excluded.seen_at), acted_at = least(r.acted_at, excluded.acted_at)
where excluded.seen_at < r.seen_at or (excluded.acted_at is not null and r.acted_at is null)`;

const asRows = (events: LoggedEvent[]): string =>
  JSON.stringify(
    events.map((e) => ({
      launch_id: e.launchId,
      visitor_id: e.visitorId,
      kind: e.kind,
      at: e.at.toISOString(),
      page: e.page,
      variant: "variant" in e.data ? e.data.variant : "A",
      country: e.country ?? null,
      data: e.data,
    })),
  );

/** Writes events with the roll-up of first times per person and stage, in the transaction that is under way. */
export const writeEvents = async (tx: EntityManager, events: LoggedEvent[]): Promise<void> => {
  if (events.length === 0) return;
  const rows = asRows(events);
  // A new visitor is a person of the same id, until an address shows who it is; known ones are passed over by their keys. All
  // people come before all visitors, as in `personOf`: a request and its own visit, written at once, must not hold each other up.
  await prepared(
    tx,
    "visitors",
    `with seen as (select visitor_id, min(at) as at from jsonb_to_recordset(?::jsonb) as b(visitor_id uuid, at timestamptz) group by 1 order by 1),
     made as (insert into person (id, created_at) select visitor_id, at from seen on conflict do nothing returning 1)
     insert into visitor (id, person_id, first_seen_at) select visitor_id, visitor_id, at from seen where (select count(*) from made) >= 0 on conflict do nothing`,
    [rows],
  );
  await prepared(tx, "events", insertBatch, [rows]);
  const seen = events.filter(({ kind }) => kind === "visited" || kind === "saw_sales" || kind === "opted_in");
  if (seen.length > 0) await prepared(tx, "page_views", insertPages, [seen.length === events.length ? rows : asRows(seen)]);
};

const hourMs = 3_600_000;

/** Counts page views by the hour. Last in its transaction: every process writes these same few rows. */
const countHours = (tx: EntityManager, events: LoggedEvent[]): Promise<unknown> => {
  // Thousands of views make a handful of counts: they are summed here, where nobody else waits for it.
  const counts = new Map<string, { launch_id: string; hour: string; kind: string; n: number }>();
  for (const { launchId, at, kind } of events) {
    const hour = Math.floor(at.getTime() / hourMs) * hourMs;
    const key = `${launchId} ${hour} ${kind}`;
    const count = counts.get(key);
    if (count) count.n += 1;
    else counts.set(key, { launch_id: launchId, hour: new Date(hour).toISOString(), kind, n: 1 });
  }
  return prepared(
    tx,
    "hourly_counts",
    `insert into hourly_count as h (launch_id, hour, kind, n)
     select launch_id, hour, kind, n from jsonb_to_recordset(?::jsonb) as b(launch_id uuid, hour timestamptz, kind text, n int)
     order by 1, 2, 3 on conflict (launch_id, hour, kind) do update set n = h.n + excluded.n`,
    [JSON.stringify([...counts.values()])],
  );
};

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

  /** Writes all that waits. Never throws: a failed batch is logged and tried again with the next. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const batch = this.waiting;
    this.waiting = [];
    this.writing = this.writing.then(async () => {
      try {
        if (batch.length > 0) {
          await this.fork().transactional(async (tx) => {
            await writeEvents(tx, batch);
            await countHours(tx, batch);
          });
        }
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
