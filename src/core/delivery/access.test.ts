import fc from "fast-check";
import { Temporal as SecondTemporal } from "@js-temporal/polyfill";
import { describe, expect, it } from "vitest";
import { accessChanges, accessTo, type AccessSource, type Payment, type Purchase, type RecurringTerms, type Return, sourceStatus } from ".";

const day = 86_400_000;
const start = Date.parse("2026-01-31T09:00:00Z");
const on = (days: number) => new Date(start + days * day);
const grace = 14;

const payment = (days: number, gross: number, returns: Return[] = [], lineId = `line-${days}`): Payment => ({ lineId, at: on(days), gross, returns });
const back = (days: number, gross: number, by: Return["by"] = "refund"): Return => ({ at: on(days), gross, by });
const purchase = (first: Payment, more: Partial<Purchase> = {}): Purchase => ({
  kind: "purchase",
  productId: "workshop",
  contents: [],
  orderId: "order",
  first,
  authorized: false,
  test: false,
  recurring: null,
  ...more,
});
const monthly = (kind: RecurringTerms["kind"], later: Payment[], more: Partial<RecurringTerms> = {}): RecurringTerms => ({
  kind,
  every: { unit: "month", n: 1 },
  firstAt: new Date("2026-02-28T09:00:00Z"),
  later,
  endedAt: null,
  endedBecause: null,
  ...more,
});
const says = (source: AccessSource, days: number) => {
  const status = sourceStatus(source, grace, on(days));
  return status.is === "closed" ? status.because : status.is;
};

describe("what was bought", () => {
  it("is open from its payment on, for good", () => {
    const bought = purchase(payment(0, 14_900));
    expect(says(bought, -1)).toBe("before");
    expect(sourceStatus(bought, grace, on(0))).toEqual({ is: "open", until: null, late: false });
    expect(says(bought, 20_000)).toBe("open");
  });
  it("stays open while a part of it is given back, and closes with the last cent", () => {
    const bought = purchase(payment(0, 14_900, [back(3, 5_000), back(5, 9_900)]));
    expect([4, 5].map((at) => says(bought, at))).toEqual(["open", "refunded"]);
  });
  it("closes with a dispute, and opens again where that is won", () => {
    const bought = purchase(payment(0, 14_900, [back(10, 14_900, "dispute"), back(40, -14_900, "dispute")]));
    expect([9, 10, 39, 40].map((at) => says(bought, at))).toEqual(["open", "disputed", "disputed", "open"]);
  });
  it("for nothing is open though nothing was paid", () => {
    expect(says(purchase(payment(0, 0)), 1)).toBe("open");
  });
  it("as a bundle opens what it held when it was sold, and nothing else", () => {
    const sources = [purchase(payment(0, 9_900), { productId: "bundle", contents: ["charts", "library"] })];
    expect(["bundle", "charts", "library"].every((id) => accessTo(sources, id, grace, on(1))?.open)).toBe(true);
    expect(accessTo(sources, "club", grace, on(1))).toBeUndefined();
  });
  it("twice is open until both went back", () => {
    const sources = [purchase(payment(0, 900, [back(2, 900)])), purchase(payment(1, 900, [], "second"))];
    expect(accessTo(sources, "workshop", grace, on(3))).toMatchObject({ open: true, source: sources[1] });
  });
});

describe("a subscription", () => {
  it("is open as long as it is paid, through the grace time, and again once it is paid after that", () => {
    // Paid at once and on 28 February, the 28th day; then not before the 89th.
    const club = purchase(payment(0, 1_200), { recurring: monthly("subscription", [payment(28, 1_200), payment(89, 1_200)]) });
    // The second is due on 28 March, the 56th day; its grace time ends on the 70th.
    expect([28, 56, 69, 70, 88, 89].map((at) => says(club, at))).toEqual(["open", "open", "open", "unpaid", "unpaid", "open"]);
    expect([55, 56].map((at) => sourceStatus(club, grace, on(at)))).toMatchObject([{ late: false }, { late: true, until: on(70) }]);
  });
  it("that is cancelled ends with what is paid; while it is late, at once", () => {
    const cancelled = (days: number) =>
      purchase(payment(0, 1_200), { recurring: monthly("subscription", [], { endedAt: on(days), endedBecause: "by_buyer" }) });
    expect([27, 28].map((at) => says(cancelled(5), at))).toEqual(["open", "cancelled"]);
    expect([30, 31].map((at) => says(cancelled(31), at))).toEqual(["open", "cancelled"]);
  });
  it("that is charged no more, for its card was refused, ends with the grace time", () => {
    const refused = purchase(payment(0, 1_200), { recurring: monthly("subscription", [], { endedAt: on(37), endedBecause: "card_refused" }) });
    expect([38, 41, 42].map((at) => says(refused, at))).toEqual(["open", "open", "unpaid"]);
  });
  it("of so many payments is over when the last of them is used up", () => {
    const six = purchase(payment(0, 1_200), { recurring: monthly("subscription", [payment(28, 1_200)], { endedAt: on(28), endedBecause: "paid" }) });
    expect([55, 56].map((at) => says(six, at))).toEqual(["open", "completed"]);
  });
  it("closes where the payment of this period went back, not where one of an earlier one did", () => {
    const of = (first: Return[], second: Return[]) =>
      purchase(payment(0, 1_200, first), { recurring: monthly("subscription", [payment(28, 1_200, second)]) });
    expect(says(of([back(30, 1_200)], []), 31)).toBe("open");
    expect(says(of([], [back(30, 1_200)]), 31)).toBe("refunded");
    expect(says(of([back(5, 1_200)], []), 6)).toBe("refunded");
    // Given back and ended by that: it stays the reason when the period is over.
    const over = purchase(payment(0, 1_200, [back(5, 1_200)]), {
      recurring: monthly("subscription", [], { endedAt: on(5), endedBecause: "refunded" }),
    });
    expect([4, 5, 27, 28, 90].map((at) => says(over, at))).toEqual(["open", "refunded", "refunded", "refunded", "refunded"]);
  });
  it("begins with a trial that costs nothing, and has no grace time before anything was paid", () => {
    const trial = purchase(payment(0, 0), { recurring: monthly("subscription", []) });
    expect([0, 27, 28].map((at) => says(trial, at))).toEqual(["open", "open", "unpaid"]);
  });
});

describe("instalments", () => {
  const paid = [payment(28, 5_000), payment(56, 5_000)];
  it("are one price: all paid, it is open for good", () => {
    const all = purchase(payment(0, 5_000), { recurring: monthly("instalments", paid, { endedAt: on(56), endedBecause: "paid" }) });
    expect(sourceStatus(all, grace, on(400))).toEqual({ is: "open", until: null, late: false });
  });
  it("close what is not paid on, and where all that was paid went back", () => {
    expect([41, 42].map((at) => says(purchase(payment(0, 5_000), { recurring: monthly("instalments", []) }), at))).toEqual(["open", "unpaid"]);
    const one = purchase(payment(0, 5_000, [back(30, 5_000)]), { recurring: monthly("instalments", [payment(28, 5_000)]) });
    expect(says(one, 31)).toBe("open");
    const both = purchase(payment(0, 5_000, [back(30, 5_000)]), { recurring: monthly("instalments", [payment(28, 5_000, [back(31, 5_000)])]) });
    expect(says(both, 31)).toBe("refunded");
  });
});

describe("a grant", () => {
  const grant: AccessSource = {
    kind: "grant",
    id: "g",
    productId: "workshop",
    from: on(0),
    until: on(10),
    revokedAt: null,
    revokedBecause: null,
    reason: "a gift",
  };
  it("is open from its first instant to its end, or until it is revoked", () => {
    expect([-1, 0, 9, 10].map((at) => says(grant, at))).toEqual(["before", "open", "open", "grant_over"]);
    expect([4, 5].map((at) => says({ ...grant, revokedAt: on(5) }, at))).toEqual(["open", "grant_revoked"]);
  });
  it("keeps open what a refund would close, and the log says which did what", () => {
    const sources = [purchase(payment(1, 900, [back(4, 900)])), grant];
    expect(accessTo(sources, "workshop", grace, on(5))).toMatchObject({ open: true, source: grant });
    expect(accessChanges(sources, "workshop", grace, on(50))).toEqual([
      { at: on(0), open: true, until: on(10), late: false, source: grant },
      // Closed by the one that began last.
      { at: on(10), open: false, because: "refunded", source: sources[0] },
    ]);
  });
});

describe("access as a function of the ledger", () => {
  const moves = fc.array(
    fc.record({
      at: fc.integer({ min: 1, max: 60 }),
      share: fc.integer({ min: 1, max: 4 }),
      by: fc.constantFrom("refund" as const, "dispute" as const),
      won: fc.boolean(),
    }),
    { maxLength: 6 },
  );
  /** Returns that never take more than there is: quarters of the amount, and of disputes some that are won later. */
  const returnsOf = (gross: number, asked: { at: number; share: number; by: Return["by"]; won: boolean }[]): Return[] => {
    const out: Return[] = [];
    for (const { at, share, by, won } of [...asked].sort((a, b) => a.at - b.at)) {
      const left = gross - out.filter((one) => one.at <= on(at)).reduce((sum, one) => sum + one.gross, 0);
      const part = Math.min(left, (gross * share) / 4);
      if (part <= 0) continue;
      out.push(back(at, part, by));
      if (by === "dispute" && won) out.push(back(at + 70, -part, by));
    }
    return out;
  };
  it("is open exactly while a part of what was paid is still there, whatever order its movements are told in", () => {
    fc.assert(
      fc.property(moves, fc.integer({ min: 0, max: 140 }), fc.func(fc.integer()), (asked, at, by) => {
        const returns = returnsOf(10_000, asked);
        const left = 10_000 - returns.filter((one) => one.at <= on(at)).reduce((sum, one) => sum + one.gross, 0);
        const shuffled = [...returns].sort((a, b) => by(a) - by(b));
        for (const told of [returns, shuffled, [...returns].reverse()])
          expect(sourceStatus(purchase(payment(0, 10_000, told)), grace, on(at)).is).toBe(left > 0 ? "open" : "closed");
      }),
    );
  });
  it("has a log that says of every instant what the rule says of it", () => {
    const source = fc.oneof(
      moves.map((asked): AccessSource => purchase(payment(0, 10_000, returnsOf(10_000, asked)))),
      fc
        .record({ from: fc.nat({ max: 60 }), long: fc.option(fc.nat({ max: 60 })), revoked: fc.option(fc.nat({ max: 90 })) })
        .map(({ from, long, revoked }): AccessSource => {
          const until = long === null ? null : on(from + long);
          return {
            kind: "grant",
            id: `${from}`,
            productId: "workshop",
            from: on(from),
            until,
            revokedAt: revoked === null ? null : on(revoked),
            revokedBecause: null,
            reason: "",
          };
        }),
      fc.array(fc.integer({ min: 0, max: 30 }), { maxLength: 4 }).map((late): AccessSource => {
        const later = late.map((days, index) => payment(28 * (index + 1) + 3 + days, 1_200));
        later.sort((a, b) => a.at.getTime() - b.at.getTime());
        return purchase(payment(0, 1_200), { recurring: monthly("subscription", later) });
      }),
    );
    fc.assert(
      fc.property(fc.array(source, { maxLength: 3 }), fc.integer({ min: 0, max: 200 }), (sources, at) => {
        const changes = accessChanges(sources, "workshop", grace, on(at));
        const last = changes.at(-1);
        expect(last?.open ?? false).toBe(accessTo(sources, "workshop", grace, on(at))?.open ?? false);
        changes.slice(1).forEach((change, index) => expect(change.open).not.toBe(changes[index]!.open));
      }),
    );
  });
  it("never closes on a buyer who pays on each day it is due, for fifty years, by a second calendar's days", () => {
    const every = fc.record({ unit: fc.constantFrom("week" as const, "month" as const, "year" as const), n: fc.integer({ min: 1, max: 6 }) });
    const begin = fc.date({ min: new Date("2000-01-01"), max: new Date("2030-01-01"), noInvalidDate: true });
    fc.assert(
      fc.property(begin, every, fc.nat({ max: 18_262 }), (firstAt, often, days) => {
        const at = new Date(firstAt.getTime() + days * day);
        const from = SecondTemporal.Instant.fromEpochMilliseconds(firstAt.getTime()).toZonedDateTimeISO("UTC");
        const later: Payment[] = [];
        for (let n = 0; later.length === n; n += 1) {
          const due = new Date(from.add({ [`${often.unit}s`]: often.n * n }).epochMilliseconds);
          if (due <= at) later.push({ lineId: `${n}`, at: due, gross: 1_200, returns: [] });
        }
        const terms = { ...monthly("subscription", later), every: often, firstAt };
        const status = sourceStatus(purchase({ ...payment(0, 1_200), at: new Date(0) }, { recurring: terms }), 0, at);
        // Without a grace time it would close at the very instant of a payment that the two calendars put on other days.
        expect(status.is).toBe("open");
        expect(
          sourceStatus(purchase({ ...payment(0, 1_200), at: new Date(0) }, { recurring: { ...terms, later: later.slice(0, -1) } }), 0, at).is,
        ).toBe(later.length === 0 ? "open" : "closed");
      }),
      { numRuns: 60 },
    );
  });
});
