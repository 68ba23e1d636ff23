import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bells, type EmailSetting } from "../launch";
import { anyPlan, fixedClock, personalClock, planFor, weeklyClock } from "../../../tests/support/plans";
import { emailRun, emailsToPublish, usualViewer } from ".";

const email = (id: string, hangsOn: EmailSetting["hangsOn"], minutes: number): EmailSetting => ({
  id,
  hangsOn,
  minutes,
  time: null,
  to: "list",
});
const emails = [email("last", "closing", -60), email("open", "opening", 0), email("after", "closing", 1440), email("soon", "opening", -120)];
const now = new Date("2026-11-21T12:00:00Z");

describe("the run of a launch's emails", () => {
  it("stands along its bells in the order in which they go, with fixed dates", () => {
    const plan = planFor({ settings: { clock: fixedClock, emails } });
    const { window, emails: run } = emailRun(plan, {}, now);
    expect(run.map(({ email: { id } }) => id)).toEqual(["soon", "open", "last", "after"]);
    expect(run[1]!.at).toEqual(window!.opens);
    expect(window!.closes.getTime() - run[2]!.at.getTime()).toBe(3_600_000);
  });
  it("is that of the doors that are open or open next, where they open again and again", () => {
    const plan = planFor({ settings: { clock: weeklyClock, emails } });
    const { window } = emailRun(plan, {}, now);
    expect(window!.closes > now).toBe(true);
  });
  it("begins now for whoever has a clock of their own, and has no dates before it starts", () => {
    const plan = planFor({ settings: { clock: personalClock, emails } });
    expect(emailRun(plan, usualViewer(plan, now), now).window!.opens).toEqual(now);
    expect(emailRun(plan, {}, now)).toEqual({ window: undefined, emails: [] });
  });
  it("names the emails that are still to go and are not published", () => {
    const steps = [{ id: "first", minutes: 60, time: null, when: null }];
    const sequences = [{ id: "s", name: "S", from: { on: "opt_in" as const }, untilBought: true, untilClosed: true, steps }];
    const plan = planFor({ settings: { clock: fixedClock, emails, sequences } });
    if (plan.clock.kind !== "fixed") throw new Error("dates stay dates");
    const { opens, closes } = plan.clock.window;
    const open = (at: Date) => emailsToPublish(plan, (id) => id === "after", at);
    expect(open(new Date(opens.getTime() - 86_400_000))).toEqual(["last", "open", "soon", "first"]);
    expect(open(opens)).toEqual(["last", "first"]);
    expect(open(closes)).toEqual([]);
    const always = planFor({ settings: { clock: personalClock, emails, sequences } });
    expect(emailsToPublish(always, () => false, closes)).toHaveLength(5);
  });
  it("goes after quiet hours, or before them where it is the last before the close, and says so", () => {
    const plan = planFor({ settings: { clock: personalClock, emails: [email("night", "opening", 0), email("last", "closing", -60)] } });
    const starts = [new Date("2026-11-21T23:00:00Z")];
    const { window, emails: run } = emailRun(plan, { starts }, now, { zone: "Europe/Lisbon", quiet: { from: "22:00", to: "08:00" } });
    expect(run[0]).toMatchObject({ at: new Date("2026-11-22T08:00:00Z"), movedFrom: starts[0] });
    expect(run[1]!.at < window!.closes).toBe(true);
  });
  it("has each email at the very instant at which its bell rings", () => {
    fc.assert(
      fc.property(anyPlan, (plan) => {
        const who = usualViewer(plan, now);
        const { window, emails: run } = emailRun(plan, who, now);
        if (!window) return;
        const range = { from: new Date(window.opens.getTime() - 400 * 86_400_000), to: new Date(window.closes.getTime() + 400 * 86_400_000) };
        const rings = new Set(bells(plan, who, range).flatMap((bell) => (bell.kind === "email" ? [`${bell.id} ${bell.at.getTime()}`] : [])));
        // Where the doors open again and again, an email long before them belongs to bells out of the range.
        for (const { email: one, at } of run) if (at > range.from && at < range.to) expect(rings).toContain(`${one.id} ${at.getTime()}`);
      }),
    );
  });
});
