import type { Logger } from "pino";
import type { EventFact } from "../../core/events";
import type { EntityManager } from "../../store/orm";
import { Dictionary, instants, uuids } from "../../store/events/batch";
import { countEvents } from "../../store/events/countEvents";
import { personOfVisitor } from "../../store/events/personOfVisitor";
import { countPageViews, type PageView } from "../../store/events/rollups";
import { prepared } from "../../store/statements/prepared";
import { describeError } from "../app/describeError";

/** One thing a visitor did on a launch's pages, with what belongs to it. */
export type LoggedEvent = EventFact & {
  launchId: string;
  visitorId: string;
  /** Who did it, where that is not who the visitor is. */
  personId?: string;
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

const insertBatch = `with ${countEvents(
  `(select f.launch_id, r.person_id, r.visitor_id, f.kind, r.at, f.page, f.country, f.data
   from unnest(?::int[], ?::uuid[], ?::uuid[], ?::timestamptz[]) as r(fact, visitor_id, person_id, at)
   join jsonb_to_recordset(?::jsonb) as f(n int, launch_id uuid, kind text, page text, country char(2), data jsonb) on f.n = r.fact) as b`,
  personOfVisitor,
)} select 1`;

const texts = new WeakMap<object, string>();

/** The data of an event as JSON. Views of a crowd share theirs. */
const textOf = (data: object): string => {
  let text = texts.get(data);
  if (text === undefined) texts.set(data, (text = JSON.stringify(data)));
  return text;
};

/** What a batch holds of each page and visitor. Summed here, where nobody else waits for it. */
const viewsOf = (events: LoggedEvent[]): PageView[] => {
  const views = new Map<string, PageView>();
  for (const event of events) {
    if (event.kind !== "visited" && event.kind !== "saw_sales" && event.kind !== "opted_in") continue;
    const { launchId, page, visitorId, personId, at } = event;
    const variant = event.kind === "opted_in" ? "A" : event.data.variant;
    const actedAt = event.kind === "opted_in" ? at : undefined;
    const key = `${launchId} ${page} ${personId ?? visitorId}`;
    const view = views.get(key);
    if (!view) {
      views.set(key, { launchId, page, visitorId, personId, variant, seenAt: at, actedAt });
      continue;
    }
    if (at < view.seenAt) Object.assign(view, { seenAt: at, variant });
    if (actedAt && (!view.actedAt || actedAt < view.actedAt)) view.actedAt = actedAt;
  }
  return [...views.values()];
};

/** Each visitor of a batch with the first instant at which they did something in it. */
const visitorsOf = (events: LoggedEvent[]): Map<string, Date> => {
  const first = new Map<string, Date>();
  for (const { visitorId, at } of events) {
    const known = first.get(visitorId);
    if (!known || at < known) first.set(visitorId, at);
  }
  return first;
};

/** Writes events with their roll-ups and counters, in the transaction that is under way. */
export const writeEvents = async (tx: EntityManager, events: LoggedEvent[]): Promise<void> => {
  if (events.length === 0) return;
  const visitors = visitorsOf(events);
  // A new visitor is a person of the same id, until an address shows who it is; known ones are passed over by their keys. All
  // people come before all visitors, as in `personOf`: a request and its own visit, written at once, must not hold each other up.
  await prepared(
    tx,
    "visitors",
    `with seen as (select visitor_id, at from unnest(?::uuid[], ?::timestamptz[]) as b(visitor_id, at) order by 1),
     made as (insert into person (id, created_at) select visitor_id, at from seen on conflict do nothing returning 1)
     insert into visitor (id, person_id, first_seen_at) select visitor_id, visitor_id, at from seen where (select count(*) from made) >= 0 on conflict do nothing`,
    [uuids([...visitors.keys()]), instants([...visitors.values()])],
  );
  const facts = new Dictionary<LoggedEvent>(
    ({ launchId, kind, page, country, data }) => `${launchId} ${kind} ${country} ${textOf(data)} ${page}`,
    ({ launchId, kind, page, country, data }) => ({ launch_id: launchId, kind, page, country, data }),
  );
  await prepared(tx, "events", insertBatch, [
    facts.numbers(events),
    uuids(events.map(({ visitorId }) => visitorId)),
    uuids(events.map(({ personId }) => personId)),
    instants(events.map(({ at }) => at)),
    facts.json(),
  ]);
  // After the stages, in a statement of its own: who begins a checkout meanwhile has been waited for, and is counted for these pages.
  const views = viewsOf(events);
  if (views.length > 0) await countPageViews(tx, views);
};

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

  /** Writes all that waits. Never throws: a failed batch is logged and tried again with the next. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const batch = this.waiting;
    this.waiting = [];
    this.writing = this.writing.then(async () => {
      try {
        if (batch.length > 0) await this.write(batch);
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
