import { launchesOf } from "../../src/server/launch/launchCache";
import ICAL from "ical.js";
import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { bells, moveBell, wallTimeOf, type LaunchSettings } from "../../src/core/launch";
import { bellCalendar } from "../../src/server/launch/calendar";
import { changeSettings, summariseChange, undoChange } from "../../src/server/launch/change";
import { addPage } from "../../src/server/pages/addPage";
import { copyLaunch } from "../../src/server/start/copyLaunch";
import { hookSecret } from "../../src/server/launch/hookSecret";
import { queueBellEmails, runBells, scheduleBells } from "../../src/server/launch/runBells";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import { answerPage } from "../../src/server/site/answer";
import { publishPage } from "../../src/server/pages/publish";
import { optIn } from "../../src/server/people/optIn";
import { EmailMessage, Page } from "../../src/store/tables";
import { Worker } from "../../src/jobs/worker";
import { advance, buy, openLaunch, setSettings, startWorld, until, withWorker, type World, sentBy } from "../support/world";

let world: World;
beforeAll(async () => {
  world = await startWorld();
});
afterAll(() => world.stop());

const fresh = async (context: LaunchContext) => (await loadLaunch(world.app.fork(), { id: context.launch.id }))!;
const run = (context: LaunchContext) =>
  world.app
    .fork()
    .execute<{ key: string; at: string; ran_at: string; outcome: string; notified_at: string | null }[]>(
      "select * from bell_run where launch_id = ? order by at",
      [context.launch.id],
    );
const subscribe = async (context: LaunchContext, email = `eva.${randomUUID().slice(0, 8)}@wool.example`) => {
  const visitorId = randomUUID();
  await optIn(world.app.fork(), context, { email, firstName: "Eva", answers: {} }, sentBy(visitorId, world.app.clock.now()));
  return { email, visitorId };
};
const newOwner = async (): Promise<string> => {
  const email = `owner.${randomUUID().slice(0, 8)}@vendor.example`;
  await world.app
    .fork()
    .execute("insert into desk_user (id, email, name, password_hash, role) values (?, ?, 'O', '-', 'owner')", [randomUUID(), email]);
  return email;
};

describe("at a bell", () => {
  it("each rings once, whichever of two processes comes first; emails go, and the vendor is told", async () => {
    const context = await openLaunch(world, { opensIn: 2, closesIn: 30, offer: false });
    const owner = await newOwner();
    const [eva, gone] = [await subscribe(context), await subscribe(context)];
    await world.app.fork().execute("update contact set unsubscribed_at = now() where email = ?", [gone.email]);
    const second = new Worker(world.app);
    await second.start();
    await withWorker(world, async () => {
      await advance(world, 121);
      await until(async () => (await run(context)).some(({ key, notified_at }) => key === "opening" && notified_at));
      const subject = `The doors of ${context.launch.name} are open`;
      await until(async () => (await world.inbox(eva.email)).some((email) => email.subject === subject));
      await until(async () => (await world.inbox(owner)).length > 0);
      await new Promise((done) => setTimeout(done, 1_500));
      expect((await world.inbox(eva.email)).filter((email) => email.subject === subject)).toHaveLength(1);
      expect(await world.inbox(gone.email)).toEqual([]);
    });
    await second.stop();
    const notified = await world.inbox(owner);
    expect(notified.map(({ subject }) => subject)).toEqual([`Doors open: ${context.launch.name}`]);
    const opening = (await run(context)).filter(({ key }) => key === "opening");
    expect(opening).toHaveLength(1);
    expect((await run(context)).find(({ key }) => key === "email:doors-open")!.outcome).toMatch(
      /^1 email on the way. Caught up [12] minutes? late: nothing was running.$/,
    );
  });

  it("that passed while nothing ran is caught up and says so; an email whose doors have closed meanwhile is not sent", async () => {
    const context = await openLaunch(world, { opensIn: -2, closesIn: 26, offer: false });
    const eva = await subscribe(context);
    await advance(world, 27 * 60);
    await withWorker(world, () => until(async () => (await run(context)).some(({ key }) => key === "closing")));
    const outcomes = Object.fromEntries((await run(context)).map(({ key, outcome }) => [key, outcome]));
    expect(outcomes["closing"]).toMatch(/^Rung. Caught up 1 hour( 1 minute)? late: nothing was running.$/);
    expect(outcomes["email:last-day"]).toMatch(/^Not sent: the doors had closed meanwhile. Caught up 1 day 1 hour/);
    expect((await world.inbox(eva.email)).map(({ subject }) => subject).filter((subject) => subject.includes("closes in a day"))).toEqual([]);
    expect(await world.app.fork().count(EmailMessage, { launchId: context.launch.id, kind: "bell" })).toBe(0);
  });

  it("that is moved rings at its new time, and not at the old one", async () => {
    const context = await openLaunch(world, { opensIn: -2, closesIn: 4, offer: false, settings: { emails: [] } });
    const closing = bells(context.plan).find(({ key }) => key === "closing")!;
    const to = new Date(closing.at.getTime() + 2 * 3_600_000);
    const moved = await setSettings(world, context, moveBell(context.source, closing, to)!);
    await withWorker(world, async () => {
      await advance(world, 4 * 60 + 30);
      await new Promise((done) => setTimeout(done, 1_500));
      expect((await run(context)).map(({ key }) => key)).not.toContain("closing");
      await advance(world, 120);
      await until(async () => (await run(context)).some(({ key }) => key === "closing"));
    });
    expect(new Date((await run(context)).find(({ key }) => key === "closing")!.at)).toEqual(
      bells(moved.plan).find(({ key }) => key === "closing")!.at,
    );
  });

  it("of a rule without end the next one is always ahead", async () => {
    const now = world.app.clock.now();
    const context = await openLaunch(world, {
      offer: false,
      request: { clock: "recurring", opensWall: wallTimeOf(new Date(now.getTime() + 3_600_000), "Europe/Lisbon"), openHours: 24 },
    });
    const eva = await subscribe(context);
    const open = `The doors of ${context.launch.name} are open`;
    await withWorker(world, async () => {
      for (const week of [1, 2]) {
        await advance(world, week === 1 ? 61 : 7 * 1440);
        await until(async () => (await world.inbox(eva.email)).filter(({ subject }) => subject === open).length === week);
      }
    });
    const [next] = await world.app.fork().execute<{ due_at: string }[]>("select due_at from outbox where key = ?", [`bells:${context.launch.id}`]);
    expect(new Date(next!.due_at).getTime()).toBeGreaterThan(world.app.clock.now().getTime());
  });

  it("is rung by nobody twice, though two look at once", async () => {
    const context = await openLaunch(world, { opensIn: 1, closesIn: 9, offer: false });
    await subscribe(context);
    await advance(world, 61);
    await Promise.all([1, 2, 3].map(() => runBells(world.app, context.launch.id)));
    const keys = (await run(context)).map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
    expect(keys).toContain("opening");
    const emails = await world.app
      .fork()
      .execute<{ id: string }[]>("select id from bell_run where launch_id = ? and queued_at is null", [context.launch.id]);
    await Promise.all([...emails, ...emails].map(({ id }) => queueBellEmails(world.app, id)));
    expect(await world.app.fork().count(EmailMessage, { launchId: context.launch.id, kind: "bell" })).toBe(1);
    await world.app.fork().transactional((em) => scheduleBells(em, context.launch.id, world.app.clock.now()));
    expect(await world.app.fork().execute("select 1 from outbox where key = ?", [`bells:${context.launch.id}`])).toHaveLength(1);
  });
});

describe("a change of the clock", () => {
  let context: LaunchContext;
  beforeAll(async () => {
    context = await openLaunch(world, { offer: false });
    for (let i = 0; i < 3; i += 1) await subscribe(context);
    const buyer = await subscribe(context);
    await buy(world, context, { visitorId: buyer.visitorId, from: "3.3.3.3" }, { email: buyer.email, firstName: "Eva", country: "PT" });
  });
  const later = (settings: LaunchSettings): LaunchSettings => ({
    ...settings,
    clock: { ...(settings.clock as { kind: "fixed" } & typeof settings.clock), closes: "2027-06-01T00:00" },
  });
  const change = (settings: LaunchSettings, version = context.launch.version, user = world.owner) =>
    changeSettings(world.app.fork(), user, context, { settings, version, what: "Doors close later" }, world.app.clock.now());

  it("is counted before it is made: who still watches, not who bought", async () => {
    const summary = await summariseChange(world.app.fork(), context, later(context.launch.settings), world.app.clock.now());
    expect(summary.countdowns).toMatchObject([{ people: 3 }]);
    expect(summary.warnings).toEqual([{ code: "closing_later", people: 3 }]);
    expect((await fresh(context)).launch.settings).toEqual(context.launch.settings);
  });
  it("is kept with what was before, and undone", async () => {
    await change(later(context.launch.settings));
    const changed = await fresh(context);
    expect(changed.launch.settings.clock).toMatchObject({ closes: "2027-06-01T00:00" });
    expect(await undoChange(world.app.fork(), world.owner, changed, world.app.clock.now())).toBe("Doors close later");
    const back = await fresh(context);
    expect(back.launch.settings).toEqual(context.launch.settings);
    await expect(undoChange(world.app.fork(), world.owner, back, world.app.clock.now())).rejects.toMatchObject({ code: "nothing_to_undo" });
    context = back;
  });
  it("does not overwrite what somebody else changed meanwhile", async () => {
    const twice = await Promise.allSettled([change(later(context.launch.settings)), change({ ...context.launch.settings, graceMinutes: 20 })]);
    expect(twice.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    expect(twice.find(({ status }) => status === "rejected")).toMatchObject({ reason: { code: "changed_meanwhile" } });
    context = await fresh(context);
  });
  it("is refused whole where a field does not fit, and to who may only look", async () => {
    const wrong = { ...context.launch.settings, stops: [{ id: "s", on: "page" as const, page: "lost", handTo: null }] };
    await expect(change(wrong)).rejects.toMatchObject({
      status: 422,
      faults: { "settings.stops.0.page": { code: "page_gone" } },
    });
    await expect(change(later(context.launch.settings), context.launch.version, { ...world.owner, role: "viewer" })).rejects.toMatchObject({
      status: 403,
    });
    expect((await fresh(context)).launch.version).toBe(context.launch.version);
  });
  it("may not hand people round in a loop, and names the launches of it", async () => {
    const personal = { offer: false, request: { clock: "personal" as const } };
    const [a, b] = [await openLaunch(world, personal), await openLaunch(world, personal)];
    const handTo = (to: LaunchContext) => ({ stops: [{ id: "s", on: "purchase" as const, product: null, handTo: to.launch.id }] });
    await setSettings(world, a, handTo(b));
    await expect(setSettings(world, b, handTo(a))).rejects.toMatchObject({
      faults: { "settings.stops.0.handTo": { code: "hand_over_loop", through: [b.launch.name, a.launch.name, b.launch.name] } },
    });
    await expect(setSettings(world, b, handTo(b))).rejects.toMatchObject({ status: 422 });
  });
  it("of the secret ends the old one at once, and is nothing for who only looks", async () => {
    const before = await hookSecret(world.app.fork(), world.owner, context.launch.slug, false);
    const after = await hookSecret(world.app.fork(), world.owner, context.launch.slug, true);
    expect(after).not.toBe(before);
    expect(await hookSecret(world.app.fork(), world.owner, context.launch.slug, false)).toBe(after);
    await expect(hookSecret(world.app.fork(), { ...world.owner, role: "viewer" }, context.launch.slug, false)).rejects.toMatchObject({ status: 403 });
  });
});

describe("doing it again", () => {
  it("copies pages as drafts, the offer path and all times, at their distance on the wall", async () => {
    const context = await openLaunch(world);
    const made = await copyLaunch(
      world.app.fork(),
      world.owner,
      context,
      { name: "Once more", as: "dates", opensWall: "2027-03-24T18:00" },
      world.app.clock.now(),
    );
    const copy = (await loadLaunch(world.app.fork(), { slug: made.slug }))!;
    expect(copy.pages.map(({ key }) => key)).toEqual(context.pages.map(({ key }) => key));
    expect(copy.pages.every(({ published }) => published === null)).toBe(true);
    expect(copy.steps).toHaveLength(1);
    expect(copy.steps[0]!.page.launchId).toBe(copy.launch.id);
    const wall = (of: LaunchContext, field: "opens" | "closes") =>
      Date.parse(`${(of.launch.settings.clock as unknown as Record<string, string>)[field]}Z`);
    expect(wall(copy, "closes") - wall(copy, "opens")).toBe(wall(context, "closes") - wall(context, "opens"));
    expect(copy.launch.hookSecret).not.toBe(context.launch.hookSecret);
  });
  it("turns dates into a clock for each person, and says what is left out", async () => {
    const context = await openLaunch(world, { offer: false });
    const made = await copyLaunch(world.app.fork(), world.owner, context, { name: "Always", as: "always_on", opensWall: "" }, world.app.clock.now());
    expect(made.remarks).toEqual([expect.stringContaining("run-up"), expect.stringContaining("3 emails before the opening")]);
    expect((await loadLaunch(world.app.fork(), { slug: made.slug }))!.plan.clock.kind).toBe("personal");
  });
  it("is refused without a date, and to who may only look, with nothing half made", async () => {
    const context = await openLaunch(world, { offer: false });
    const copy = (user = world.owner) =>
      copyLaunch(world.app.fork(), user, context, { name: "Half", as: "dates", opensWall: "soon" }, world.app.clock.now());
    await expect(copy()).rejects.toMatchObject({ faults: { opensWall: { code: "moment" } } });
    await expect(copy({ ...world.owner, role: "viewer" })).rejects.toMatchObject({ status: 403 });
    expect(await loadLaunch(world.app.fork(), { slug: "half" })).toBeUndefined();
  });
});

describe("a page of the vendor's own", () => {
  it("answers in its folder, under the folder's gate", async () => {
    const context = await openLaunch(world, { offer: false });
    const page = await addPage(world.app.fork(), world.owner, context, {
      address: "bonus/pattern-one",
      headline: "A pattern",
      template: "episode-read",
      lookFrom: "",
    });
    await publishPage(world.app.fork(), world.owner, page.id, "V", world.app.clock.now());
    const get = async () => {
      launchesOf(world.app).clear();
      return answerPage(world.app, { slug: context.launch.slug, path: "bonus/pattern-one", query: new URLSearchParams() });
    };
    expect((await get()).body).toContain("<h1>A pattern</h1>");
    const gate = {
      id: "g",
      covers: { mode: "only" as const, pages: [], folders: ["bonus"] },
      before: { to: "itself" as const },
      after: { to: "itself" as const },
    };
    await setSettings(world, await fresh(context), { gates: [{ ...gate, during: { to: "address", url: "https://next.example/x" } }] });
    expect((await get()).headers["location"]).toBe("https://next.example/x");
    await expect(
      addPage(world.app.fork(), world.owner, await fresh(context), { address: "join", headline: "Twice", template: "episode-read", lookFrom: "" }),
    ).rejects.toMatchObject({
      status: 422,
    });
    expect(await world.app.fork().count(Page, { launchId: context.launch.id, slug: "join" })).toBe(1);
  });
});

describe("the calendar of the bells (RFC 5545, read back with ical.js)", () => {
  const read = (text: string) =>
    new ICAL.Component(ICAL.parse(text) as never).getAllSubcomponents("vevent").map((component) => {
      const event = new ICAL.Event(component);
      return { uid: event.uid, at: event.startDate.toJSDate(), summary: event.summary, sequence: event.sequence };
    });
  const calendar = (context: LaunchContext) => bellCalendar(context, "https://shop.example", world.app.clock.now());
  it("has every bell at its instant, in lines of at most 75 octets that end as they must", async () => {
    const context = await openLaunch(world, { offer: false });
    const text = calendar(context);
    expect(text.split("\r\n").every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
    expect(text.replaceAll("\r\n", "")).not.toMatch(/[\r\n]/);
    const notified = bells(context.plan).filter(({ kind }) => kind !== "grace_end" && kind !== "look");
    expect(
      read(text)
        .map(({ at, summary }) => [at.getTime(), summary])
        .sort(),
    ).toEqual(notified.map(({ at, label }) => [Math.floor(at.getTime() / 1000) * 1000, `${label}: ${context.launch.name}`]).sort());
  });
  it("knows a bell again when it is moved", async () => {
    const context = await openLaunch(world, { offer: false });
    const closing = bells(context.plan).find(({ key }) => key === "closing")!;
    const moved = await setSettings(world, context, moveBell(context.source, closing, new Date(closing.at.getTime() + 86_400_000))!);
    const [before, after] = [context, moved].map((of) => read(calendar(of)).find(({ uid }) => uid.startsWith("closing."))!);
    expect(after!.uid).toBe(before!.uid);
    expect(after!.sequence).toBeGreaterThan(before!.sequence);
    expect(after!.at.getTime() - before!.at.getTime()).toBe(86_400_000);
  });
  it("of a rule lists the openings that come", async () => {
    const context = await openLaunch(world, { offer: false, request: { clock: "recurring", opensWall: "2026-12-07T10:00", openHours: 24 } });
    const openings = read(calendar(context)).filter(({ uid }) => uid.startsWith("opening@"));
    expect(openings.length).toBeGreaterThan(45);
    expect(new Set(openings.map(({ at }) => wallTimeOf(at, "Europe/Lisbon").slice(11)))).toEqual(new Set(["10:00"]));
  });
});
