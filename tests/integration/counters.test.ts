import { randomUUID } from "node:crypto";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { devices, type Device } from "../../src/core/events";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { writeEvents, type LoggedEvent } from "../../src/store/events/writeEvents";
import { becomePerson, personOf } from "../../src/server/identity/identity";
import { confirmOptIn, optIn } from "../../src/server/people/optIn";
import { OptIn } from "../../src/store/tables";
import { foldCounters } from "../../src/store/events/counters";
import { rebuildFigures } from "../../src/store/events/rebuild";
import { launchFigures } from "../../src/store/launch/launchFigures";
import { pageFigures } from "../../src/store/pages/pageFigures";
import { stageFunnel } from "../../src/store/leaks/stageFunnel";
import { buyer, openLaunch, sentBy, startWorld, type World } from "../support/world";

let world: World;
let context: LaunchContext;
beforeAll(async () => {
  world = await startWorld();
  context = await openLaunch(world);
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const day = 86_400_000;
const hour = 3_600_000;

/** The beginning of a day (UTC), so many days ago. */
const startOfDay = (daysAgo: number) => new Date((Math.floor(world.app.clock.now().getTime() / day) - daysAgo) * day);

const kept = {
  stages:
    "select launch_id, person_id, country, country_at, source, source_at, device, device_at, visited, opted_in, saw_sales, began_checkout, paid from stage_rollup",
  pages: "select launch_id, page, person_id, variant, seen_at, acted_at from page_rollup",
  days: "select launch_id, person_id, kind, page, day::text, n from day_rollup",
  hours:
    "select launch_id, kind, hour, country, source, sum(people) as people, sum(events) as events from hour_count group by 1, 2, 3, 4, 5 having sum(people) <> 0 or sum(events) <> 0",
  counts:
    "select launch_id, page, variant, sum(people) as people, sum(opted_in) as opted_in, sum(began) as began, sum(paid) as paid from page_count group by 1, 2, 3 having sum(people) <> 0",
};
/** All that is kept beside the log, in an order of its own. */
const all = async (): Promise<Record<string, string[]>> =>
  Object.fromEntries(
    await Promise.all(
      Object.entries(kept).map(async ([name, sql]) => [name, (await em().execute<object[]>(sql)).map((row) => JSON.stringify(row)).sort()] as const),
    ),
  );

type Deed =
  | { does: "see"; who: number; page: "optin" | "sales"; variant: "A" | "B"; hours: number; country?: string; source?: string; device?: Device }
  | { does: "opt_in" | "begin" | "pay"; who: number; hours: number }
  | { does: "merge"; who: number; into: number }
  | { does: "flush" };
const who = fc.integer({ min: 0, max: 4 });
const hours = fc.integer({ min: 1, max: 24 * 40 });
const view = fc.record({
  does: fc.constant("see" as const),
  who,
  page: fc.constantFrom("optin" as const, "sales" as const),
  variant: fc.constantFrom("A" as const, "B" as const),
  hours,
  country: fc.constantFrom(undefined, "PT", "DE"),
  source: fc.constantFrom(undefined, "guild", "fair"),
  device: fc.constantFrom(undefined, ...devices),
});
const deed: fc.Arbitrary<Deed> = fc.oneof(
  { weight: 5, arbitrary: view },
  { weight: 4, arbitrary: fc.record({ does: fc.constantFrom("opt_in" as const, "begin" as const, "pay" as const), who, hours }) },
  { weight: 2, arbitrary: fc.record({ does: fc.constant("merge" as const), who, into: who }) },
  { weight: 2, arbitrary: fc.constant({ does: "flush" as const }) },
);

/** Lets five visitors do this, in whatever order it is written; events of the past come late. */
const live = async (deeds: Deed[]): Promise<void> => {
  const visitors = Array.from({ length: 5 }, () => randomUUID());
  const now = world.app.clock.now();
  let waiting: LoggedEvent[] = [];
  const flush = async () => {
    await em().transactional((tx) => writeEvents(tx, waiting));
    waiting = [];
  };
  for (const [n, one] of deeds.entries()) {
    if (one.does === "flush") await flush();
    else if (one.does === "merge") {
      await flush();
      await em().transactional(async (tx) => becomePerson(tx, visitors[one.who]!, await personOf(tx, visitors[one.into]!, now), now));
    } else {
      const by = { launchId: context.launch.id, visitorId: visitors[one.who]!, at: new Date(now.getTime() - one.hours * hour + n) };
      const money = { amountMinor: 14_900, currency: "EUR", products: [context.product.id], order: randomUUID() };
      if (one.does === "see") {
        const { page, variant, country, source, device } = one;
        const data = { variant, ...(source ? { source } : {}), ...(device ? { device } : {}) };
        waiting.push({ ...by, kind: page === "sales" ? "saw_sales" : "visited", page, country, data });
      } else if (one.does === "opt_in") waiting.push({ ...by, kind: "opted_in", page: "optin", data: { form: "f" } });
      else if (one.does === "begin")
        waiting.push({ ...by, kind: "began_checkout", page: "checkout", data: { checkout: randomUUID(), product: context.product.id } });
      else waiting.push({ ...by, kind: "paid", page: "checkout", data: money });
    }
  }
  await flush();
};

describe("counters and roll-ups", () => {
  it("are what the log says, whoever was merged into whom and however late an event came", async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(deed, { minLength: 4, maxLength: 30 }), async (deeds) => {
        await live(deeds);
        const before = await all();
        await foldCounters(em());
        expect(await all()).toEqual(before);
        await rebuildFigures(em(), new Date(0));
        expect(await all()).toEqual(before);
      }),
      { numRuns: 25 },
    );
    const [row] = await em().execute<{ merged: string }[]>("select count(*) as merged from person where merged_into is not null");
    expect(Number(row!.merged)).toBeGreaterThan(5);
  });

  it("hold when the same people look and begin a checkout at the same moment", async () => {
    const own = await openLaunch(world);
    const people = Array.from({ length: 12 }, () => randomUUID());
    const by = (visitorId: string) => ({ launchId: own.launch.id, visitorId, at: world.app.clock.now() });
    const sees = people.map((id): LoggedEvent => ({ ...by(id), kind: "saw_sales", page: "sales", data: { variant: "A" } }));
    const begins = people.map((id): LoggedEvent => ({
      ...by(id),
      kind: "began_checkout",
      page: "checkout",
      data: { checkout: randomUUID(), product: own.product.id },
    }));
    const writes = [sees, begins, sees.slice(4), begins.slice(0, 6)].flatMap((events) => events.map((event) => [event]));
    await Promise.all(writes.map((events) => em().transactional((tx) => writeEvents(tx, events))));
    expect(await pageFigures(em(), { launchId: own.launch.id, now: world.app.clock.now() })).toEqual([
      { page: "sales", variant: "A", people: 12, optedIn: 0, began: 12, paid: 0 },
    ]);
  });

  it("answer as things are now what counting everybody answers", async () => {
    const now = world.app.clock.now();
    const launchId = context.launch.id;
    const figures = await pageFigures(em(), { launchId, now });
    expect(figures.length).toBeGreaterThan(2);
    expect(figures).toEqual(await pageFigures(em(), { launchId, now, past: true }));
    expect(await stageFunnel(em(), { launchId, now })).toEqual(await stageFunnel(em(), { launchId, now, past: true }));
    expect((await launchFigures(em(), { now })).get(launchId)).toEqual((await launchFigures(em(), { now, past: true })).get(launchId));
  });

  it("keep what lies before the edge of the log when that is all there is", async () => {
    const edge = startOfDay(20);
    const before = await all();
    const count = async () => Number((await em().execute<{ n: string }[]>("select count(*) as n from event"))[0]!.n);
    const whole = await count();
    await em().execute("delete from event where at < ?", [edge]);
    expect(await count()).toBeLessThan(whole);
    await rebuildFigures(em(), edge);
    expect(await all()).toEqual(before);
  });

  it("move a view to whom a form was sent for, when another browser confirms it", async () => {
    const own = await openLaunch(world);
    const at = world.app.clock.now();
    const [asker, stranger] = [randomUUID(), randomUUID()];
    const sees = (visitorId: string): LoggedEvent => ({
      launchId: own.launch.id,
      visitorId,
      kind: "visited",
      at,
      page: "optin",
      data: { variant: "B" },
    });
    await em().transactional((tx) => writeEvents(tx, [sees(asker), sees(stranger)]));
    const form = { id: "f", double: "always" as const };
    await optIn(em(), own, { email: buyer().email, firstName: "Ada", answers: {} }, sentBy(asker, at, { form, page: "optin" }));
    const given = await em().findOneOrFail(OptIn, { launchId: own.launch.id });
    await confirmOptIn(em(), own, given.id, stranger, at);
    // The stranger's browser only carried the press: who is on the list is the address's owner.
    const rows = await em().execute(
      "select c.id as contact, r.opted_in is not null as listed from stage_rollup r left join contact c on c.person_id = r.person_id where r.launch_id = ? order by 1",
      [own.launch.id],
    );
    expect(rows).toEqual([
      { contact: given.contactId, listed: true },
      { contact: null, listed: false },
      { contact: null, listed: false },
    ]);
    expect(await pageFigures(em(), { launchId: own.launch.id, now: world.app.clock.now() })).toEqual([
      { page: "optin", variant: "B", people: 2, optedIn: 1, began: 0, paid: 0 },
    ]);
    const before = await all();
    await rebuildFigures(em(), startOfDay(20));
    expect(await all()).toEqual(before);
  });
});
