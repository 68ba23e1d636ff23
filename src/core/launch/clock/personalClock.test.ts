import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { after, anyPersonal, day, minute } from "../../../../tests/support/plans";
import { deadlineOf, handOverLoop, mayStart, mergedStarts, personalWindows, type Window } from "..";

const start = new Date("2026-11-20T18:00:00Z");
const exact = (minutes: number) => ({ kind: "exact" as const, minutes });
const ended = (window: Window | undefined) => window?.closes.getTime();

describe("a person's deadline", () => {
  it("is exactly so long after the start", () => expect(deadlineOf(exact(90), "Europe/Lisbon", start)).toEqual(after(start, 90 * minute)));
  it("is the first HH:MM of the launch's zone that is at least so long after", () => {
    const length = { kind: "until" as const, minutes: 3 * 1440, time: "20:00" };
    expect(deadlineOf(length, "Europe/Lisbon", start)).toEqual(new Date("2026-11-23T20:00:00Z"));
    expect(deadlineOf(length, "Europe/Lisbon", new Date("2026-11-20T20:00:00Z"))).toEqual(new Date("2026-11-23T20:00:00Z"));
    expect(deadlineOf(length, "Europe/Lisbon", new Date("2026-11-20T20:00:01Z"))).toEqual(new Date("2026-11-24T20:00:00Z"));
    expect(deadlineOf(length, "America/New_York", start)).toEqual(new Date("2026-11-24T01:00:00Z"));
  });
  it("keeps its time of day on the wall across a change of the clocks", () => {
    const length = { kind: "until" as const, minutes: 1440, time: "20:00" };
    expect(deadlineOf(length, "Europe/Lisbon", new Date("2026-10-24T18:00:00Z"))).toEqual(new Date("2026-10-25T20:00:00Z"));
    expect(deadlineOf(length, "Europe/Lisbon", new Date("2026-03-28T18:00:00Z"))).toEqual(new Date("2026-03-29T19:00:00Z"));
  });
  it("may be the second of the two times that the wall shows on the night the clocks go back", () => {
    // Lisbon, 25 October 2026: 01:30 comes at 00:30Z and again at 01:30Z.
    const length = { kind: "until" as const, minutes: 60, time: "01:30" };
    const ends = (start: string) => deadlineOf(length, "Europe/Lisbon", new Date(start)).toISOString();
    expect(ends("2026-10-24T23:30:00Z")).toBe("2026-10-25T00:30:00.000Z");
    expect(ends("2026-10-24T23:30:01Z")).toBe("2026-10-25T01:30:00.000Z");
    expect(ends("2026-10-25T00:30:00Z")).toBe("2026-10-25T01:30:00.000Z");
    expect(ends("2026-10-25T00:30:01Z")).toBe("2026-10-26T01:30:00.000Z");
    // Lord Howe goes back by half an hour: 01:45 comes twice on 5 April 2026.
    const island = (start: string) => deadlineOf({ ...length, minutes: 0, time: "01:45" }, "Australia/Lord_Howe", new Date(start)).toISOString();
    expect([island("2026-04-04T14:45:00Z"), island("2026-04-04T14:46:00Z")]).toEqual(["2026-04-04T14:45:00.000Z", "2026-04-04T15:15:00.000Z"]);
  });
  it("in a zone that skips a whole day comes on the next one", () => {
    // Apia had no 30 December 2011 (IANA time zone database).
    const length = { kind: "until" as const, minutes: 0, time: "12:00" };
    expect(deadlineOf(length, "Pacific/Apia", new Date("2011-12-30T01:00:00Z"))).toEqual(new Date("2011-12-30T22:00:00Z"));
  });
  it("is at least so long and at most a day, and an hour of changed clocks, more", () => {
    fc.assert(
      fc.property(
        anyPersonal,
        fc.integer({ min: 0, max: 400 * 1440 }),
        fc.constantFrom("Europe/Lisbon", "Australia/Lord_Howe"),
        ({ length }, offset, zone) => {
          const from = after(start, offset * minute);
          const got = deadlineOf(length, zone, from).getTime() - from.getTime();
          expect(got).toBeGreaterThanOrEqual(length.minutes * minute);
          expect(got).toBeLessThanOrEqual(length.minutes * minute + (length.kind === "exact" ? 0 : 25 * 3_600_000));
        },
      ),
    );
  });
  it("comes no later for who starts earlier", () => {
    fc.assert(
      fc.property(anyPersonal, fc.nat(9_000), fc.nat(9_000), ({ length }, a, b) => {
        const [early, late] = [Math.min(a, b), Math.max(a, b)].map((minutes) =>
          deadlineOf(length, "Europe/Lisbon", after(start, minutes * minute)).getTime(),
        );
        expect(early).toBeLessThanOrEqual(late!);
      }),
    );
  });
});

describe("a person's clock", () => {
  const once = { length: exact(3 * 1440), rearm: null };
  const again = { length: exact(3 * 1440), rearm: { restMinutes: 2 * 1440, times: 1 } };
  const spans = (clock: typeof once | typeof again, ...days: number[]) =>
    personalWindows(
      clock,
      "Europe/Lisbon",
      days.map((n) => after(start, n * day)),
    ).map(({ opens, closes }) => [(opens.getTime() - start.getTime()) / day, (closes.getTime() - start.getTime()) / day]);
  it("never starts anew while it runs, nor at all where it may not", () => {
    expect(spans(once, 0, 1, 2.9)).toEqual([[0, 3]]);
    expect(spans(once, 0, 9)).toEqual([[0, 3]]);
  });
  it("starts again after a rest, at most so many times", () => {
    expect(spans(again, 0, 4.9)).toEqual([[0, 3]]);
    expect(spans(again, 0, 5)).toEqual([
      [0, 3],
      [5, 8],
    ]);
    expect(spans(again, 0, 5, 20)).toEqual([
      [0, 3],
      [5, 8],
    ]);
    expect(mayStart(again, "Europe/Lisbon", [start], after(start, 5 * day))).toBe(true);
    expect(mayStart(again, "Europe/Lisbon", [start], after(start, 4 * day))).toBe(false);
  });
  it("of two identities that are one person: the earlier start wins", () => {
    expect(spans(once, 2, 0)).toEqual([[0, 3]]);
    expect(spans(again, 1, 0, 3.5)).toEqual([[0, 3]]);
  });

  const starts = fc.uniqueArray(fc.nat(60_000), { maxLength: 4 }).map((minutes) => minutes.map((n) => after(start, n * minute)));
  const runningAt = (windows: Window[], at: Date) => windows.find(({ opens, closes }) => opens <= at && at < closes);
  it("is never lengthened by knowing more of a person", () => {
    fc.assert(
      fc.property(anyPersonal, starts, starts, fc.nat(80_000), (clock, a, b, minutes) => {
        const at = after(start, minutes * minute);
        const of = (list: Date[]) => personalWindows(clock, "Europe/Lisbon", list);
        const both = runningAt(of([...a, ...b]), at);
        for (const one of [a, b]) {
          const alone = runningAt(of(one), at);
          // Whoever had time left has no more of it together; what runs together ran for one of them alone or would have.
          if (alone && both) expect(ended(both)).toBeLessThanOrEqual(ended(alone)!);
        }
        const mine = [...of(a), ...of(b)];
        if (both) expect([...a, ...b].some((at) => at.getTime() === both.opens.getTime())).toBe(true);
        if (both && mine.some(({ opens }) => opens.getTime() === both.opens.getTime())) {
          expect(mine.filter(({ opens, closes }) => opens <= at && at < closes).every(({ closes }) => closes >= both.closes)).toBe(true);
        }
      }),
      { numRuns: 400 },
    );
  });
  it("of two identities whose doors are both open stays open until the earlier end", () => {
    const again = { length: exact(3 * 1440), rearm: { restMinutes: 2 * 1440, times: 1 } };
    const days = (...list: number[]) => list.map((n) => after(start, n * day));
    const [a, b] = [days(0, 5), days(4)];
    const at = after(start, 6 * day);
    const merged = mergedStarts(again, "Europe/Lisbon", [a, b], at);
    expect(runningAt(personalWindows(again, "Europe/Lisbon", merged), at)?.closes).toEqual(after(start, 7 * day));
    // Who has used up their time under one of them has none left under the other.
    const over = mergedStarts(once, "Europe/Lisbon", [days(0), days(5)], at);
    expect(runningAt(personalWindows(once, "Europe/Lisbon", over), at)).toBeUndefined();
  });
  it("never shuts doors that are open to both, and never gives either of them more time", () => {
    // Starts as they are recorded: each was one that its own clock let in.
    const recorded = (clock: Parameters<typeof mayStart>[0], list: Date[]) =>
      [...list]
        .sort((x, y) => x.getTime() - y.getTime())
        .reduce<Date[]>((kept, at) => (mayStart(clock, "Europe/Lisbon", kept, at) ? [...kept, at] : kept), []);
    fc.assert(
      fc.property(anyPersonal, starts, starts, fc.nat(80_000), (clock, a, b, minutes) => {
        const at = after(start, minutes * minute);
        const [mine, theirs] = [a, b].map((list) =>
          recorded(
            clock,
            list.filter((one) => one <= at),
          ),
        ) as [Date[], Date[]];
        const open = (list: readonly Date[]) => runningAt(personalWindows(clock, "Europe/Lisbon", list), at)?.closes.getTime();
        const [endA, endB] = [open(mine), open(theirs)];
        const end = open(mergedStarts(clock, "Europe/Lisbon", [mine, theirs], at));
        if (endA && endB) expect(end).toBe(Math.min(endA, endB));
        else if (end) expect(end).toBeLessThanOrEqual(endA ?? endB ?? -Infinity);
      }),
      { numRuns: 1_000 },
    );
  });
  it("comes out the same in whatever order identities are merged, and twice as once", () => {
    fc.assert(
      fc.property(anyPersonal, starts, starts, starts, (clock, a, b, c) => {
        const of = (...lists: Date[][]) => personalWindows(clock, "Europe/Lisbon", lists.flat());
        expect(of(c, a, b)).toEqual(of(a, b, c));
        expect(of(a, a, b)).toEqual(of(a, b));
      }),
    );
  });
  it("runs one window at a time, with the rest between, no more often than it may", () => {
    fc.assert(
      fc.property(anyPersonal, starts, (clock, list) => {
        const windows = personalWindows(clock, "Europe/Lisbon", list);
        expect(windows.length).toBeLessThanOrEqual(1 + (clock.rearm?.times ?? 0));
        for (let i = 1; i < windows.length; i += 1)
          expect(windows[i]!.opens.getTime()).toBeGreaterThanOrEqual(windows[i - 1]!.closes.getTime() + (clock.rearm?.restMinutes ?? 0) * minute);
      }),
    );
  });
});

describe("handing people on", () => {
  it("is refused where it would come round", () => {
    const all = [
      { launch: "a", handsTo: ["b"] },
      { launch: "b", handsTo: ["c", "d"] },
      { launch: "c", handsTo: ["a"] },
      { launch: "d", handsTo: [] },
    ];
    expect(handOverLoop(all, "a")).toEqual(["a", "b", "c", "a"]);
    expect(handOverLoop(all, "d")).toBeUndefined();
    expect(handOverLoop([{ launch: "x", handsTo: ["x"] }], "x")).toEqual(["x", "x"]);
  });
  it("ends however the launches point at one another", () => {
    const edges = fc.array(fc.tuple(fc.nat(5), fc.nat(5)), { maxLength: 14 });
    fc.assert(
      fc.property(edges, (list) => {
        const all = Array.from({ length: 6 }, (_, n) => ({ launch: `${n}`, handsTo: list.filter(([from]) => from === n).map(([, to]) => `${to}`) }));
        const loop = handOverLoop(all, "0");
        if (!loop) return;
        expect([loop[0], loop.at(-1)]).toEqual(["0", "0"]);
        for (let i = 1; i < loop.length; i += 1) expect(all[Number(loop[i - 1])]!.handsTo).toContain(loop[i]);
      }),
    );
  });
});
