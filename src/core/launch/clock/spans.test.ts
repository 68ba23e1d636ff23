import { describe, expect, it } from "vitest";
import { after, day, minute, personalClock, planFor } from "../../../../tests/support/plans";
import { answerSpans, countdownSpans, counterHistory, soldAt, type AddressView, type Span } from "..";

const opens = new Date("2026-11-20T18:00:00Z");
const closes = new Date("2026-11-27T00:00:00Z");
const from = after(opens, -day);
const to = after(closes, day);
const named = (spans: Span<AddressView["answer"]>[]) =>
  spans.map(({ from: begins, to: ends, is }) => [begins, ends, "page" in is ? is.page.key : is.redirect] as const);

describe("what an address answers, span by span", () => {
  it("changes at the bells, and begins and ends with the time that is asked for", () => {
    expect(named(answerSpans(planFor(), {}, "join", from, to))).toEqual([
      [from, opens, "optin"],
      [opens, closes, "sales"],
      [closes, to, "closed"],
    ]);
    expect(named(answerSpans(planFor(), {}, "join", opens, closes))).toEqual([[opens, closes, "sales"]]);
    expect(named(answerSpans(planFor(), {}, "closed", from, to))).toEqual([[from, to, "closed"]]);
  });
  it("changes with the last seat, and with nothing of the seats before", () => {
    const plan = planFor({ settings: { seats: 2 } });
    const [first, last] = [after(opens, day), after(opens, 2 * day)];
    const history = counterHistory(plan, { at: [first.getTime(), last.getTime()], sold: [1, 2] });
    expect(history.changes).toEqual([last]);
    expect(named(answerSpans(plan, {}, "join", opens, closes, history))).toEqual([
      [opens, last, "sales"],
      [last, closes, "optin"],
    ]);
    expect(named(answerSpans(plan, {}, "join", opens, closes))).toEqual([[opens, closes, "sales"]]);
    // Sold out before the stretch that is asked for, or at its end, makes no span of no length.
    expect(named(answerSpans(plan, {}, "join", last, closes, history))).toEqual([[last, closes, "optin"]]);
    expect(named(answerSpans(plan, {}, "join", opens, last, history))).toEqual([[opens, last, "sales"]]);
  });
  it("changes with a person's own start, and leads whom another launch took over there", () => {
    const plan = planFor({ clock: personalClock });
    const start = after(opens, 60 * minute);
    const who = { starts: [start], stop: { at: after(start, 2 * day), handedTo: "primer" } };
    expect(named(answerSpans(plan, who, "join", opens, after(start, 5 * day)))).toEqual([
      [opens, start, "optin"],
      [start, after(start, 2 * day), "sales"],
      [after(start, 2 * day), after(start, 5 * day), "launch"],
    ]);
  });
});

describe("what a countdown shows, span by span", () => {
  it("is where it runs to and how urgent it looks", () => {
    const spans = countdownSpans(planFor(), {}, from, to).map(({ from: begins, is }) => [begins, is?.to, is?.stage?.id]);
    expect(spans).toEqual([
      [from, "opening", undefined],
      [opens, "closing", undefined],
      [after(closes, -day), "closing", "last-day"],
      [after(closes, -60 * minute), "closing", "last-hour"],
      [closes, undefined, undefined],
    ]);
  });
});

describe("the counter of sales", () => {
  const steps = { at: [1_000, 2_000, 3_000], sold: [1, 4, 9] };
  it("stands at what was sold by an instant, that instant included", () => {
    expect([0, 999, 1_000, 1_999, 2_000, 2_999, 3_000, 9_000].map((ms) => soldAt(steps, ms))).toEqual([0, 0, 1, 1, 4, 4, 9, 9]);
  });
  it("changes what people see when the last seat goes, where there are seats", () => {
    const changes = (seats: number | null) => counterHistory(planFor({ settings: { seats } }), steps).changes.map((at) => at.getTime());
    expect([changes(null), changes(1), changes(4), changes(5), changes(9), changes(10)]).toEqual([[], [1_000], [2_000], [3_000], [3_000], []]);
    expect(counterHistory(planFor(), steps).at(new Date(2_500))).toEqual({ sold: 4 });
  });
});
