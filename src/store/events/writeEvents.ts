import type { EventFact } from "../../core/events";
import type { EntityManager } from "../orm";
import { addVisitors } from "../people/persons";
import { prepared } from "../prepared";
import { Dictionary, instants, uuids } from "./batch";
import { countEvents } from "./countEvents";
import { personOfRow } from "./personOfRow";
import { countPageViews, type PageView } from "./rollups";

/** One thing a visitor did on a launch's pages, with what belongs to it. */
export type LoggedEvent = EventFact & {
  launchId: string;
  visitorId: string;
  /** Who did it, where that is not who the visitor is, or is known already: then the visitor is recorded, too. */
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

const insertBatch = `with ${countEvents(
  `(select f.launch_id, r.person_id, r.visitor_id, f.kind, r.at, f.page, f.country, f.data
   from unnest(?::int[], ?::uuid[], ?::uuid[], ?::timestamptz[]) as r(fact, visitor_id, person_id, at)
   join jsonb_to_recordset(?::jsonb) as f(n int, launch_id uuid, kind text, page text, country char(2), data jsonb) on f.n = r.fact) as b`,
  personOfRow,
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

/** Each visitor of a batch with the first instant at which they did something in it; without those of whom it is said who they are: they are known. */
const visitorsOf = (events: LoggedEvent[]): Map<string, Date> => {
  const first = new Map<string, Date>();
  for (const { visitorId, personId, at } of events) {
    if (personId) continue;
    const known = first.get(visitorId);
    if (!known || at < known) first.set(visitorId, at);
  }
  return first;
};

/** Writes events with their roll-ups and counters, in the transaction that is under way. */
export const writeEvents = async (tx: EntityManager, events: LoggedEvent[]): Promise<void> => {
  if (events.length === 0) return;
  const visitors = visitorsOf(events);
  if (visitors.size > 0) await addVisitors(tx, visitors);
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
