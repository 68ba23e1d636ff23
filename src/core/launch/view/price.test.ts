import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { planFor, sourceFor } from "../../../../tests/support/plans";
import {
  counterBells,
  viewerOfKind,
  personKinds,
  priceAt,
  readSeenAs,
  readSeenAt,
  scarcity,
  seatsLeft,
  seenQuery,
  settingFaults,
  writeSeenAs,
  type SeenAs,
} from "..";

const at = new Date("2026-11-23T12:00:00Z");
const rising = (every: number, stepMinor: number, capMinor: number) => planFor({ settings: { rising: { every, stepMinor, capMinor } } });

describe("a price that rises with the sales", () => {
  it("is min(cap, start + floor(sold / every) × step), and says what comes next", () => {
    const plan = rising(25, 1_000, 19_900);
    expect(priceAt(plan, at, { sold: 24 })).toEqual({ minor: 14_900, currency: "EUR", rises: { afterSales: 1, toMinor: 15_900 } });
    expect(priceAt(plan, at, { sold: 25 })).toEqual({ minor: 15_900, currency: "EUR", rises: { afterSales: 25, toMinor: 16_900 } });
    expect(priceAt(plan, at, { sold: 9_999 })).toEqual({ minor: 19_900, currency: "EUR" });
  });
  it("never falls as sales come in, never passes the cap, and rises when it said it would", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 50 }),
        fc.integer({ min: 1, max: 5_000 }),
        fc.integer({ min: 0, max: 30_000 }),
        fc.nat(2_000),
        (every, step, over, sold) => {
          const plan = rising(every, step, 14_900 + over);
          const seen = priceAt(plan, at, { sold });
          // Counted sale by sale, as somebody at a till would.
          let asked = 14_900;
          for (let sale = 1; sale <= sold; sale += 1) if (sale % every === 0) asked = Math.min(14_900 + over, asked + step);
          expect(seen.minor).toBe(asked);
          if (!seen.rises || !("afterSales" in seen.rises)) return;
          expect(priceAt(plan, at, { sold: sold + seen.rises.afterSales - 1 }).minor).toBe(seen.minor);
          expect(priceAt(plan, at, { sold: sold + seen.rises.afterSales }).minor).toBe(seen.rises.toMinor);
        },
      ),
    );
  });
});

describe("bells that the counters ring", () => {
  const sales = Array.from({ length: 7 }, (_, n) => new Date(at.getTime() + n * 60_000));
  const steps = { at: sales.map((sale) => sale.getTime()), sold: sales.map((_, n) => n + 1) };
  it("stand at the sales that raised the price or took the last seat", () => {
    const plan = planFor({ settings: { rising: { every: 3, stepMinor: 1_000, capMinor: 16_000 }, seats: 7 } });
    expect(counterBells(plan, steps).map(({ key, at: when, label }) => [key, when, label])).toEqual([
      ["rise:3", sales[2], "Sale 3: the price rises to €159.00"],
      ["rise:6", sales[5], "Sale 6: the price rises to €160.00"],
      ["last_seat", sales[6], "Sale 7: the last seat is taken"],
    ]);
    expect(counterBells(planFor(), steps)).toEqual([]);
  });
});

describe("a dated price", () => {
  const plan = planFor({
    settings: {
      prices: [
        { id: "full", from: "2026-11-24T00:00", minor: 14_900 },
        { id: "first", from: "2026-11-20T18:00", minor: 12_900 },
      ],
    },
  });
  it("holds from its bell on, and announces the next one only where it is dearer", () => {
    expect(priceAt(plan, at, { sold: 0 })).toMatchObject({ minor: 12_900, rises: { at: new Date("2026-11-24T00:00:00Z"), toMinor: 14_900 } });
    expect(priceAt(plan, new Date("2026-11-24T00:00:00Z"), { sold: 0 })).toEqual({ minor: 14_900, currency: "EUR" });
    expect(priceAt(plan, new Date("2026-11-19T00:00:00Z"), { sold: 0 })).toEqual({ minor: 14_900, currency: "EUR" });
  });
});

describe("seats", () => {
  const plan = planFor({ settings: { seats: 100 } });
  it("are counted down to none, and not at all where there is no limit", () => {
    expect(seatsLeft(plan, { sold: 63 })).toEqual({ left: 37, of: 100 });
    expect(seatsLeft(plan, { sold: 101 })).toEqual({ left: 0, of: 100 });
    expect(seatsLeft(planFor(), { sold: 5 })).toBeUndefined();
  });
  it("and rises are said in words that are true", () => {
    expect(scarcity(priceAt(rising(12, 1_000, 19_900), at, { sold: 0 }), seatsLeft(plan, { sold: 63 }), "Europe/Lisbon")).toEqual([
      "37 of 100 seats left",
      "The price rises to €159.00 in 12 sales",
    ]);
    expect(scarcity({ minor: 100, currency: "EUR", rises: { at, toMinor: 200 } }, { left: 0, of: 9 }, "Europe/Lisbon")).toEqual([
      "All 9 seats are taken",
      "The price rises to €2.00 on Monday 23 November 2026 at 12:00, Lisbon time",
    ]);
  });
});

describe("the view of a screen", () => {
  it("is written into an address and read back the same", () => {
    const anySeen: fc.Arbitrary<SeenAs> = fc.oneof(
      fc.constant<SeenAs>({ kind: "everyone" }),
      fc.uuid().map((id): SeenAs => ({ kind: "person", id })),
      fc
        .record({
          kind: fc.constantFrom(...personKinds),
          since: fc.option(fc.date({ min: new Date(0), max: new Date(4e12), noInvalidDate: true }), { nil: undefined }),
        })
        .map(({ kind, since }) => (since ? { kind, since } : { kind })),
    );
    fc.assert(fc.property(anySeen, (seen) => void expect(readSeenAs(writeSeenAs(seen))).toEqual(seen)));
    expect(readSeenAt(new URLSearchParams(seenQuery({ at, as: { kind: "new" } })).get("at"))).toEqual(at);
  });
  it("that makes no sense is now, as everyone", () => {
    for (const text of ["", "person@1", "admin", "subscriber@yesterday' or 1=1", undefined])
      expect(readSeenAs(text).kind).toMatch(/everyone|subscriber/);
    expect(readSeenAt("tomorrow")).toBeUndefined();
  });
  it("of a kind of person is a person the clock could know", () => {
    const plan = planFor();
    expect(viewerOfKind({ kind: "new" }, plan, at)).toEqual({});
    expect(viewerOfKind({ kind: "buyer", since: at }, plan, at).orderedAt).toEqual(at);
    const closed = new Date("2026-11-30T00:00:00Z");
    expect(viewerOfKind({ kind: "begun" }, plan, closed).checkoutBegunAt).toEqual(new Date("2026-11-26T23:59:00Z"));
  });
});

describe("a price that rises with time", () => {
  const opens = new Date("2026-11-20T18:00:00Z");
  const plan = planFor({ settings: { rising: { by: "time", every: 1_440, stepMinor: 1_000, capMinor: 17_500 } } });
  const after = (hours: number) => priceAt(plan, new Date(opens.getTime() + hours * 3_600_000), { sold: 999 }).minor;
  it("is min(cap, price + steps × step) since the opening, whatever was sold", () => {
    expect([-1, 0, 23, 24, 47, 48, 72, 96].map(after)).toEqual([14_900, 14_900, 14_900, 15_900, 15_900, 16_900, 17_500, 17_500]);
  });
  it("goes on rising as long as the doors are open: hourly for 30 days from 149 by 1 is 725 at the cap of 725, not 649", () => {
    const clock = { kind: "fixed" as const, runUp: "2026-11-01T18:00", opens: "2026-11-02T18:00", closes: "2026-12-02T18:00" };
    const hourly = planFor({ clock, settings: { rising: { by: "time", every: 60, stepMinor: 80, capMinor: 80_000 } } });
    const at = (hours: number) => priceAt(hourly, new Date(Date.parse("2026-11-02T18:00:00Z") + hours * 3_600_000), { sold: 0 }).minor;
    // 14,900 and 719 steps of 80: the last rise is an hour before the close.
    expect([at(500), at(501), at(719)]).toEqual([14_900 + 500 * 80, 14_900 + 501 * 80, 14_900 + 719 * 80]);
  });
  it("that would rise more often than anybody could follow is refused at its field, with how often", () => {
    const clock = { kind: "fixed" as const, runUp: "2026-11-01T18:00", opens: "2026-11-02T18:00", closes: "2026-12-02T18:00" };
    const source = sourceFor({ clock, settings: { rising: { by: "time", every: 1, stepMinor: 1, capMinor: 90_000 } } });
    expect(settingFaults(source)).toEqual({ "rising.every": { code: "rises_too_often", rises: 43_199, most: 1_500 } });
  });
  it("with a dated price among its steps takes the dated price up by the steps so far, and no price above the cap down", () => {
    const dated = (minor: number, capMinor = 17_500) =>
      planFor({
        settings: {
          prices: [{ id: "p", from: "2026-11-22T12:00", minor }],
          rising: { by: "time", every: 1_440, stepMinor: 1_000, capMinor },
        },
      });
    // Two days in, before the second step: one step of the rise is added.
    expect(priceAt(dated(15_500), new Date("2026-11-22T12:00:00Z"), { sold: 0 }).minor).toBe(16_500);
    // A dated price above the cap stands as it is.
    expect(priceAt(dated(20_000), new Date("2026-11-22T12:00:00Z"), { sold: 0 }).minor).toBe(20_000);
    expect(priceAt(dated(20_000), new Date("2026-11-24T12:00:00Z"), { sold: 0 }).minor).toBe(20_000);
  });
  it("announces its next step, which is a bell like a dated price", () => {
    expect(priceAt(plan, opens, { sold: 0 })).toMatchObject({ rises: { at: new Date(opens.getTime() + 86_400_000), toMinor: 15_900 } });
    expect(plan.prices.map(({ minor }) => minor)).toEqual([15_900, 16_900, 17_500]);
  });
});
