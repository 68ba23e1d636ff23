import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bellEmail } from "../../src/core/emails";
import type { PersonalClock, SequenceSetting, StepSetting } from "../../src/core/launch";
import { previewEmailTo, runSequences } from "../../src/server/emails";
import { launchesOf, rescheduleEmails } from "../../src/server/launch";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { applyOutsideNotice } from "../../src/server/launch/outsideNotices";
import { confirmOptIn, optIn } from "../../src/server/people/optIn";
import { mergePeople } from "../../src/server/people/mergePeople";
import { emailFigures } from "../../src/store/emails/emailFigures";
import { writeEmails } from "../../src/store/emails/launchEmails";
import { sequencePeople, stepsSent } from "../../src/store/emails/sequences/sequenceFigures";
import { momentsOf } from "../../src/store/emails/sequences/sequences";
import { optOut } from "../../src/store/people/optOuts";
import { addStop } from "../../src/store/launch/clocks";
import { personTimeline } from "../../src/store/people/record/personTimeline";
import { ClockStart, Contact, EmailMessage, OptIn, Order, PersonTag } from "../../src/store/tables";
import { advance, buy, openLaunch, sendEmail, sentBy, setSettings, startWorld, visitor, type World } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const em = () => world.app.fork();
const now = () => world.app.clock.now();
const step = (id: string, minutes: number, change: Partial<StepSetting> = {}): StepSetting => ({ id, minutes, time: null, when: null, ...change });
const sequence = (change: Partial<SequenceSetting> = {}): SequenceSetting => ({
  id: "start",
  name: "First days",
  from: { on: "opt_in" },
  untilBought: true,
  untilClosed: true,
  steps: [step("one", 10), step("two", 60)],
  ...change,
});
/** A launch with sequences whose steps are all written, and which has looked for the first time. */
const withSequences = (...sequences: SequenceSetting[]): Promise<LaunchContext> => launchWith({}, sequences);
const launchWith = async (change: Parameters<typeof openLaunch>[1], sequences: SequenceSetting[]): Promise<LaunchContext> => {
  const of = await openLaunch(world, change);
  const steps = sequences.flatMap((one) => one.steps);
  await writeEmails(em(), of.launch.id, Object.fromEntries(steps.map(({ id }) => [id, bellEmail(`Step ${id}`, "Words.")])), now());
  const set = await setSettings(world, of, { sequences });
  await runSequences(world.app);
  return set;
};
const reader = async (of: LaunchContext, change: Partial<Contact> = {}) => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const { visitorId } = visitor();
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitorId, now(), { page: "" }));
  const contact = await em().findOneOrFail(Contact, { email });
  if (Object.keys(change).length > 0) await em().nativeUpdate(Contact, { id: contact.id }, change);
  return { id: contact.id, personId: contact.personId, email, visitorId };
};
const steps = (to: { id: string }) => em().find(EmailMessage, { contactId: to.id, kind: "step" }, { orderBy: { dueAt: 1 } });
/** Sends the steps that are due to somebody; answers what became of each of theirs. */
const send = async (to: { id: string }): Promise<[step: string, became: string][]> => {
  for (const { id, state, dueAt } of await steps(to)) if (state === "due" && dueAt <= now()) await sendEmail(world, id);
  return (await steps(to)).map(({ data, state, stoppedBecause }) => [(data as { step: string }).step, stoppedBecause ?? state]);
};

describe("a sequence", () => {
  it("takes in whoever has its moment from when it was made, once, and sends its steps in their time", async () => {
    const of = await withSequences();
    const before = await reader(of);
    await setSettings(world, of, { sequences: [sequence()] });
    await writeEmails(em(), of.launch.id, { one: bellEmail("Step one", "Words."), two: bellEmail("Step two", "Words.") }, now());
    await runSequences(world.app);
    await advance(world, 1);
    const after = await reader(of);
    await Promise.all([runSequences(world.app), runSequences(world.app)]);
    await runSequences(world.app);
    expect([(await steps(before)).length, (await steps(after)).length]).toEqual([0, 2]);
    expect(await sequencePeople(em(), of.launch.id)).toEqual({ start: { taken: 1, underWay: 1 } });
    expect(await send(after)).toEqual([
      ["one", "due"],
      ["two", "due"],
    ]);
    await advance(world, 11);
    expect((await send(after))[0]).toEqual(["one", "sent"]);
    await advance(world, 60);
    expect((await send(after))[1]).toEqual(["two", "sent"]);
    const subjects = (await world.inbox(after.email)).map(({ subject }) => subject).filter((subject) => subject.startsWith("Step"));
    expect(subjects).toEqual(["Step one", "Step two"]);
    const figures = (await emailFigures(em(), of.launch.id, now())).filter(({ kind }) => kind === "step");
    expect(figures.map(({ email, sent }) => [email, sent])).toEqual([
      ["one", 1],
      ["two", 1],
    ]);
  });

  it("ends for whoever buys, leaves, is stopped, or whose doors have closed", async () => {
    const of = await withSequences(sequence(), sequence({ id: "always", untilBought: false, untilClosed: false, steps: [step("three", 5)] }));
    const [bought, left, gone] = [await reader(of), await reader(of), await reader(of)];
    await runSequences(world.app);
    await buy(world, of, { visitorId: bought.visitorId, from: "127.0.0.1" }, { email: bought.email, firstName: "Una", country: "PT" });
    await optOut(em(), left.id, of.launch.id, "desk", now());
    await em().nativeUpdate(Contact, { id: gone.id }, { unsubscribedAt: now() });
    await advance(world, 12);
    const first = async (to: { id: string }) => Object.fromEntries<string>(await send(to));
    expect(await first(bought)).toMatchObject({ one: "paid", three: "sent" });
    expect(await first(left)).toMatchObject({ one: "launch_left", three: "launch_left" });
    expect(await first(gone)).toMatchObject({ one: "unsubscribed", three: "unsubscribed" });
  });

  it("waits for a time of day in each reader's own zone", async () => {
    const of = await withSequences(sequence({ steps: [step("morning", 0, { time: "08:00" })] }));
    const [here, there] = [await reader(of, { zone: "Europe/Lisbon" }), await reader(of, { guessedZone: "Pacific/Auckland" })];
    await runSequences(world.app);
    await advance(world, 1);
    const hour = async (to: { id: string }, zone: string) => {
      await send(to);
      const [one] = await steps(to);
      expect(one!.state).toBe("due");
      return new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(one!.dueAt);
    };
    expect([await hour(here, "Europe/Lisbon"), await hour(there, "Pacific/Auckland")]).toEqual(["08:00", "08:00"]);
  });

  it("asks each step's condition when it goes", async () => {
    const of = await withSequences(sequence({ steps: [step("for-knitters", 5, { when: { tag: "knits" } })] }));
    const [with_, without] = [await reader(of), await reader(of)];
    await runSequences(world.app);
    await em().insert(PersonTag, { personId: with_.personId, tag: "knits", at: now() });
    await advance(world, 6);
    expect([await send(with_), await send(without)]).toEqual([[["for-knitters", "sent"]], [["for-knitters", "not_meant"]]]);
  });

  it("counts from a purchase, a tag and a confirmation as well", async () => {
    const of = await withSequences(
      sequence({ id: "bought", from: { on: "bought", product: null }, untilBought: false, steps: [step("thanks", 5)] }),
      sequence({ id: "other", from: { on: "bought", product: randomUUID() }, untilBought: false, steps: [step("never", 5)] }),
      sequence({ id: "tag", from: { on: "tag", tag: "wool" }, steps: [step("wool", 5)] }),
      sequence({ id: "sure", from: { on: "confirmed" }, steps: [step("sure", 5)] }),
    );
    const [buyer, tagged, sure] = [await reader(of), await reader(of), await reader(of)];
    await advance(world, 1);
    await buy(world, of, { visitorId: buyer.visitorId, from: "127.0.0.1" }, { email: buyer.email, firstName: "Una", country: "PT" });
    await em().insert(PersonTag, { personId: tagged.personId, tag: "wool", at: now() });
    const asked = await em().findOneOrFail(OptIn, { contactId: sure.id });
    await confirmOptIn(em(), of, asked.id, sure.visitorId, now());
    await runSequences(world.app);
    // Whoever need not confirm an address is on the list with the opt-in.
    const people = await sequencePeople(em(), of.launch.id);
    expect([people.bought!.taken, people.tag!.taken, people.sure!.taken]).toEqual([1, 1, 3]);
    const order = await em().findOneOrFail(Order, { contactId: buyer.id });
    expect((await momentsOf(em(), of.launch.id, buyer.id)).bought).toEqual(order.placedAt);
  });

  it("counts from the start and the end of one's own clock, as it ends by the settings of now, and not where it was stopped", async () => {
    const of = await launchWith({ request: { clock: "personal", personHours: 2 } }, [
      sequence({ id: "begun", from: { on: "clock_start" }, steps: [step("begun", 5)] }),
      sequence({ id: "over", from: { on: "clock_end" }, untilClosed: false, steps: [step("over", 5)] }),
    ]);
    const [to, stopped] = [await reader(of), await reader(of)];
    const start = (await em().findOneOrFail(ClockStart, { personId: to.personId })).at;
    await addStop(em(), { launchId: of.launch.id, personId: stopped.personId, at: now(), because: "purchase", handTo: null });
    await advance(world, 6);
    await runSequences(world.app);
    expect(await send(to)).toEqual([["begun", "sent"]]);
    const longer = { kind: "exact" as const, minutes: 180 };
    await setSettings(world, of, { clock: { ...(of.launch.settings.clock as PersonalClock), length: longer } });
    await rescheduleEmails(world.app, of.launch.id);
    await advance(world, 130);
    await runSequences(world.app);
    expect((await sequencePeople(em(), of.launch.id))["over"]).toBeUndefined();
    await advance(world, 60);
    await runSequences(world.app);
    expect((await momentsOf(em(), of.launch.id, to.id))["over"]).toEqual(new Date(start.getTime() + 180 * 60_000));
    expect((await sequencePeople(em(), of.launch.id))["over"]).toMatchObject({ taken: 1 });
    expect(Object.fromEntries<string>(await send(to))["over"]).toBe("sent");
  });

  it("takes in whom a clock's end was found out for late, or whose records became one", async () => {
    const of = await launchWith({ request: { clock: "personal", personHours: 2 } }, [
      sequence({ id: "over", from: { on: "clock_end" }, untilClosed: false, steps: [step("over", 5)] }),
    ]);
    const first = await reader(of);
    await advance(world, 30);
    const second = await reader(of);
    await runSequences(world.app);
    const { id: kept } = await mergePeople(em(), world.owner, second.personId, first.personId, now());
    await advance(world, 200);
    await runSequences(world.app);
    const starts = await em().find(ClockStart, { personId: kept, superseded: false });
    expect(starts.map(({ at, endsAt }) => endsAt && endsAt.getTime() - at.getTime())).toEqual([120 * 60_000]);
    const left = await em().findOneOrFail(Contact, { personId: kept, mergedInto: null });
    expect((await momentsOf(em(), of.launch.id, left.id))["over"]).toEqual(starts[0]!.endsAt);
  });

  it("counts from what another tool reports, for whoever agreed to emails", async () => {
    const of = await withSequences(sequence({ id: "told", from: { on: "notice", name: "attended" }, steps: [step("told", 5)] }));
    const to = await reader(of);
    const stranger = `finn.${randomUUID().slice(0, 8)}@heddle.example`;
    const tell = (email: string, notice: string) => applyOutsideNotice(of.launch.id)(world.app, { type: "person.notice", data: { email, notice } });
    await advance(world, 1);
    expect(await Promise.all([tell(to.email.toUpperCase(), " attended "), tell(stranger, "attended"), tell(to.email, "left")])).toEqual([
      "noted: attended",
      "noted: attended",
      "noted: left",
    ]);
    expect(await tell("nobody", "attended")).toBe("not understood");
    expect(await tell(to.email, " ")).toBe("not understood");
    await runSequences(world.app);
    expect(await sequencePeople(em(), of.launch.id)).toEqual({ told: { taken: 1, underWay: 1 } });
    const known = await personTimeline(em(), { id: to.personId, contactId: to.id }, now());
    expect(known.flatMap((entry) => (entry.is === "notice" ? entry.name : []))).toEqual(expect.arrayContaining(["attended", "left"]));
    expect((await em().findOneOrFail(Contact, { email: stranger })).consentAt).toBeNull();
    await advance(world, 6);
    expect(await send(to)).toEqual([["told", "sent"]]);
  });

  it("that is changed sends what is added to those who are in it, moves what waits, and sends nothing twice", async () => {
    let of = await withSequences(sequence());
    const to = await reader(of);
    await runSequences(world.app);
    await advance(world, 11);
    expect((await send(to))[0]).toEqual(["one", "sent"]);
    await writeEmails(em(), of.launch.id, { three: bellEmail("Step three", "Words.") }, now());
    of = await setSettings(world, (await loadLaunch(em(), { id: of.launch.id }))!, {
      sequences: [sequence({ steps: [step("one", 500), step("two", 600), step("three", 30)] })],
    });
    await runSequences(world.app);
    expect((await send(to)).sort()).toEqual([
      ["one", "sent"],
      ["three", "due"],
      ["two", "due"],
    ]);
    const waits = Object.fromEntries((await steps(to)).map(({ data, dueAt }) => [(data as { step: string }).step, dueAt]));
    const moment = (await momentsOf(em(), of.launch.id, to.id)).start!;
    expect(waits["two"]).toEqual(new Date(moment.getTime() + 600 * 60_000));
    await advance(world, 30);
    expect(Object.fromEntries<string>(await send(to))["three"]).toBe("sent");
    await setSettings(world, (await loadLaunch(em(), { id: of.launch.id }))!, { sequences: [] });
    await advance(world, 600);
    expect(Object.fromEntries<string>(await send(to))["two"]).toBe("email_withdrawn");
  });

  it("is one person's once, with the earlier moment, when two records are merged", async () => {
    const of = await withSequences(sequence());
    const first = await reader(of);
    await advance(world, 2);
    const second = await reader(of);
    await runSequences(world.app);
    const moment = (await momentsOf(em(), of.launch.id, first.id)).start;
    const { id: kept } = await mergePeople(em(), world.owner, second.personId, first.personId, now());
    const left = await em().findOneOrFail(Contact, { personId: kept, mergedInto: null });
    expect((await momentsOf(em(), of.launch.id, left.id)).start).toEqual(moment);
    expect(await sequencePeople(em(), of.launch.id)).toEqual({ start: { taken: 1, underWay: 1 } });
    await advance(world, 12);
    await send(left);
    expect((await steps(left)).filter(({ state }) => state === "sent")).toHaveLength(1);
    const [span, ...more] = await stepsSent(em(), of.launch.id, now());
    expect([span!.sent, more]).toEqual([1, []]);
    expect(now().getTime() - span!.at.getTime()).toBeLessThan(6 * 3_600_000 + 60_000);
    expect(span!.at.getUTCHours() % 6).toBe(0);
    expect(await stepsSent(em(), of.launch.id, new Date(now().getTime() - 3_600_000 * 24))).toEqual([]);
  });

  it("is read as somebody in it gets it, with when that is, or why they do not", async () => {
    const of = await withSequences(sequence());
    const to = await reader(of);
    await runSequences(world.app);
    const moment = (await momentsOf(em(), of.launch.id, to.id)).start!;
    launchesOf(world.app).clear();
    const { subject, at, stop } = await previewEmailTo(world.app, em(), of, "two", { readerId: to.id });
    expect([subject, at, stop]).toEqual(["Step two", new Date(moment.getTime() + 60 * 60_000), null]);
    expect((await previewEmailTo(world.app, em(), of, "two")).at).toBeNull();
    await em().nativeUpdate(Contact, { id: to.id }, { unsubscribedAt: now() });
    expect((await previewEmailTo(world.app, em(), of, "two", { readerId: to.id })).stop).toBe("unsubscribed");
  });
});
