import { Temporal as Other } from "@js-temporal/polyfill";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { EmailSetting } from "../launch";
import { bellEmailDueAt, capSpanMs, lastCall, noLimits, overtaken, paced, quietAt, sendingLimits, type QuietHours, type SendingLimits } from ".";

const zones = ["Europe/Lisbon", "America/New_York", "Australia/Lord_Howe", "Pacific/Apia", "Asia/Kathmandu", "America/Santiago"];
const hour = 3_600_000;
const quiet: QuietHours = { from: "22:00", to: "08:00" };
const at = (text: string) => new Date(text);
const anyTime = fc.integer({ min: 0, max: 1439 }).map((of) => `${String(Math.floor(of / 60)).padStart(2, "0")}:${String(of % 60).padStart(2, "0")}`);
const anyInstant = fc.date({ min: at("2026-01-01T00:00:00Z"), max: at("2027-06-01T00:00:00Z"), noInvalidDate: true });

describe("quiet hours", () => {
  it("hold in the reader's zone, over midnight, from their first minute to before their last", () => {
    const night = { from: at("2026-11-29T22:00:00Z"), to: at("2026-11-30T08:00:00Z") };
    expect(quietAt(quiet, at("2026-11-29T22:00:00Z"), "Europe/Lisbon")).toEqual(night);
    expect(quietAt(quiet, at("2026-11-30T07:59:59Z"), "Europe/Lisbon")).toEqual(night);
    expect(quietAt(quiet, at("2026-11-30T08:00:00Z"), "Europe/Lisbon")).toBeUndefined();
    expect(quietAt(quiet, at("2026-11-29T22:00:00Z"), "America/New_York")).toBeUndefined();
    expect(quietAt({ from: "12:00", to: "14:00" }, at("2026-11-29T13:00:00Z"), "Europe/Lisbon")).toBeDefined();
    expect(quietAt({ from: "12:00", to: "12:00" }, at("2026-11-29T12:00:00Z"), "Europe/Lisbon")).toBeUndefined();
  });
  it("are an hour shorter in the night in which the clocks go forward", () => {
    // IANA: Lisbon goes from 01:00 to 02:00 on 29 March 2026.
    const night = quietAt(quiet, at("2026-03-29T00:30:00Z"), "Europe/Lisbon")!;
    expect(night.to.getTime() - night.from.getTime()).toBe(9 * hour);
  });
  it("are those hours on the wall, as another implementation of Temporal reads it", () => {
    fc.assert(
      fc.property(anyInstant, anyTime, anyTime, fc.constantFrom(...zones), (instant, from, to, zone) => {
        const wall = Other.Instant.fromEpochMilliseconds(instant.getTime())
          .toZonedDateTimeISO(zone)
          .toPlainTime()
          .toString({ smallestUnit: "second" });
        const inside = from < to ? wall >= from && wall < to : from > to && (wall >= from || wall < to);
        const day = Other.Instant.fromEpochMilliseconds(instant.getTime()).toZonedDateTimeISO(zone);
        // A time of day that the clocks leave out or repeat stands for no one place on the wall.
        if (day.hoursInDay !== 24 || day.subtract({ days: 1 }).hoursInDay !== 24 || day.add({ days: 1 }).hoursInDay !== 24) return;
        expect(quietAt({ from, to }, instant, zone) !== undefined).toBe(inside);
      }),
    );
  });
});

const email = (id: string, minutes: number, hangsOn: EmailSetting["hangsOn"] = "closing"): EmailSetting => ({
  id,
  hangsOn,
  minutes,
  time: null,
  to: "list",
});
const window = { opens: at("2026-11-24T18:00:00Z"), closes: at("2026-11-30T00:00:00Z") };
const run = { emails: [email("day", -1440), email("hour", -60), email("open", 0, "opening"), email("after", 60)], window, zone: "Europe/Lisbon" };

describe("the last email before a close", () => {
  it("is the one that goes last while the doors are open, on whichever bell it hangs", () => {
    expect(lastCall(run)?.id).toBe("hour");
    expect(lastCall({ ...run, emails: [email("open", 0, "opening"), email("after", 60)] })?.id).toBe("open");
    expect(lastCall({ ...run, emails: [email("after", 60)] })).toBeUndefined();
  });
  it("goes a quarter of an hour before quiet hours that it would fall into, and to others when it is due", () => {
    const [, last] = run.emails;
    expect(bellEmailDueAt(last!, run, { zone: "Europe/Lisbon", quiet })).toEqual({
      at: at("2026-11-29T21:45:00Z"),
      movedFrom: at("2026-11-29T23:00:00Z"),
    });
    expect(bellEmailDueAt(last!, run, { zone: "Europe/Berlin", quiet }).at).toEqual(at("2026-11-29T20:45:00Z"));
    expect(bellEmailDueAt(last!, run, { zone: "America/New_York", quiet })).toEqual({ at: at("2026-11-29T23:00:00Z") });
    expect(bellEmailDueAt(run.emails[0]!, run, { zone: "Europe/Lisbon", quiet })).toEqual({ at: at("2026-11-29T00:00:00Z") });
  });
  it("stays where it is when the doors were not open before that night", () => {
    const short = { ...run, window: { opens: at("2026-11-29T22:30:00Z"), closes: at("2026-11-30T02:00:00Z") } };
    expect(bellEmailDueAt(run.emails[1]!, short, { zone: "Europe/Lisbon", quiet })).toEqual({ at: at("2026-11-30T01:00:00Z") });
  });
  it("has those before it dropped once it has gone", () => {
    const two = { ...run, emails: [email("two", -125), email("hour", -60)] };
    expect(overtaken(two.emails[0]!, two, at("2026-11-29T21:55:00Z"))).toBeUndefined();
    expect(overtaken(two.emails[0]!, two, at("2026-11-29T21:55:00Z"), { zone: "Europe/Lisbon", quiet })).toBe("next_is_due");
    expect(
      overtaken(email("four", -240), { ...run, emails: [email("four", -240), email("hour", -60)] }, at("2026-11-29T21:50:00Z"), {
        zone: "Europe/Lisbon",
        quiet,
      }),
    ).toBe("next_is_due");
  });
});

describe("an email at a time of day", () => {
  it("goes so many days from its bell, by the calendar of the launch's zone, over a change of the clocks", () => {
    const before = { id: "x", hangsOn: "closing" as const, minutes: -2 * 1440, time: "18:00" };
    expect(bellEmailDueAt(before, run).at).toEqual(at("2026-11-28T18:00:00Z"));
    // IANA: Lisbon is at UTC+1 until 25 October 2026, 02:00.
    const autumn = { ...run, window: { opens: at("2026-10-20T18:00:00Z"), closes: at("2026-10-26T20:00:00Z") } };
    expect(bellEmailDueAt(before, autumn).at).toEqual(at("2026-10-24T17:00:00Z"));
    expect(bellEmailDueAt({ ...before, minutes: 0, time: "09:30" }, autumn).at).toEqual(at("2026-10-26T09:30:00Z"));
  });
});

describe("one more email to somebody", () => {
  const limits: SendingLimits = { ...noLimits, quiet, perDay: 1 };
  const noon = at("2026-11-28T12:00:00Z");
  const empty = { zone: "Europe/Lisbon", sent: [], lastCalls: [] };
  it("waits for the morning, unless that is after the close it leads up to", () => {
    const night = at("2026-11-28T23:00:00Z");
    expect(paced(limits, empty, { at: night, lastCall: false })).toEqual({ waitUntil: at("2026-11-29T08:00:00Z") });
    expect(paced(limits, empty, { at: night, lastCall: false, closes: at("2026-11-29T08:00:00Z") })).toEqual({ stop: "quiet_past_close" });
    expect(paced(limits, empty, { at: night, lastCall: true, closes: at("2026-11-29T08:00:00Z") })).toBe("go");
  });
  it("waits until the day of the one before is over, and is dropped where the close is sooner", () => {
    const mailbox = { ...empty, sent: [at("2026-11-28T09:00:00Z")] };
    expect(paced(limits, mailbox, { at: noon, lastCall: false })).toEqual({ waitUntil: at("2026-11-29T09:00:00Z") });
    expect(paced(limits, mailbox, { at: noon, lastCall: false, closes: at("2026-11-29T09:00:00Z") })).toEqual({ stop: "cap_past_close" });
    expect(paced({ ...limits, perDay: 2 }, mailbox, { at: noon, lastCall: false })).toBe("go");
    expect(paced(limits, mailbox, { at: at("2026-11-29T09:00:00Z"), lastCall: false })).toBe("go");
  });
  it("keeps the place of a last call that comes within the day", () => {
    const mailbox = { ...empty, lastCalls: [at("2026-11-29T11:00:00Z")] };
    expect(paced(limits, mailbox, { at: noon, lastCall: false })).toEqual({ waitUntil: at("2026-11-30T11:00:00Z") });
    expect(paced(limits, mailbox, { at: at("2026-11-28T10:59:00Z"), lastCall: false })).toBe("go");
  });
  it("is one a week for whoever asked for that, last calls too, of which the first has its place kept", () => {
    const few = { ...empty, fewer: true };
    const sent = { ...few, sent: [at("2026-11-25T12:00:00Z")] };
    expect(paced(noLimits, few, { at: noon, lastCall: false })).toBe("go");
    expect(paced(noLimits, sent, { at: noon, lastCall: false })).toEqual({ waitUntil: at("2026-12-02T12:00:00Z") });
    expect(paced(noLimits, sent, { at: noon, lastCall: true, closes: at("2026-11-30T00:00:00Z") })).toEqual({ stop: "cap_past_close" });
    expect(paced(noLimits, { ...few, lastCalls: [at("2026-11-30T12:00:00Z")] }, { at: noon, lastCall: false })).toEqual({
      waitUntil: at("2026-12-07T12:00:00Z"),
    });
    expect(paced(noLimits, few, { at: noon, lastCall: true })).toBe("go");
  });
  it("never comes in quiet hours nor beyond the cap, whatever is due when, and a last call always comes before its close", () => {
    interface Due {
      at: number;
      last: boolean;
      closes?: number;
    }
    const start = at("2026-03-25T00:00:00Z").getTime();
    const anyDue = fc.record({ at: fc.integer({ min: 0, max: 240 }), closesIn: fc.option(fc.integer({ min: 1, max: 60 }), { nil: undefined }) });
    fc.assert(
      fc.property(
        fc.array(anyDue, { maxLength: 24 }),
        fc.option(fc.integer({ min: 30, max: 200 }), { nil: undefined }),
        fc.integer({ min: 1, max: 3 }),
        fc.constantFrom(...zones),
        (dues, callAt, perDay, zone) => {
          const rules: SendingLimits = { quiet, perDay, perMinute: null };
          const closes = callAt === undefined ? undefined : start + callAt * hour + hour;
          const call: Due[] = [];
          if (closes !== undefined) {
            const of = { emails: [email("last", -60)], window: { opens: new Date(start), closes: new Date(closes) }, zone };
            call.push({ at: bellEmailDueAt(of.emails[0]!, of, { zone, quiet }).at.getTime(), last: true, closes });
          }
          const waiting: Due[] = [
            ...call,
            ...dues.map(({ at: from, closesIn }): Due => {
              const due = start + from * hour;
              return closesIn === undefined ? { at: due, last: false } : { at: due, last: false, closes: due + closesIn * hour };
            }),
          ];
          const sent: { at: number; last: boolean }[] = [];
          for (let turns = 0; waiting.length > 0; turns += 1) {
            expect(turns).toBeLessThan(1_000);
            waiting.sort((a, b) => a.at - b.at || Number(b.last) - Number(a.last));
            const one = waiting.shift()!;
            const mailbox = {
              zone,
              sent: sent.map(({ at: went }) => new Date(went)),
              lastCalls: waiting.filter(({ last }) => last).map(({ at: due }) => new Date(due)),
            };
            const may = paced(rules, mailbox, {
              at: new Date(one.at),
              lastCall: one.last,
              closes: one.closes === undefined ? undefined : new Date(one.closes),
            });
            if (may === "go") sent.push({ at: one.at, last: one.last });
            else if ("waitUntil" in may) {
              expect(may.waitUntil.getTime()).toBeGreaterThan(one.at);
              waiting.push({ ...one, at: may.waitUntil.getTime() });
            }
          }
          for (const { at: went, last } of sent) {
            if (!last) expect(quietAt(quiet, new Date(went), zone)).toBeUndefined();
            expect(sent.filter((other) => other.at > went - capSpanMs && other.at <= went).length).toBeLessThanOrEqual(perDay);
          }
          if (closes !== undefined) expect(sent.find(({ last }) => last)!.at).toBeLessThan(closes);
        },
      ),
    );
  });
  it("has limits that are whole and make sense", () => {
    expect(sendingLimits.safeParse({ quiet: { from: "22:00", to: "22:00" }, perDay: 0, perMinute: 0 }).error?.issues).toHaveLength(3);
    expect(sendingLimits.safeParse({ quiet: { from: "22", to: "08:00" }, perDay: 2.5, perMinute: null }).error?.issues).toHaveLength(2);
    expect(sendingLimits.parse(noLimits)).toEqual(noLimits);
  });
});
